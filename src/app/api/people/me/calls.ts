import { showAccount } from '@/usecases/people/account'
import { readingAs } from '@/app/asPerson'

export const GET = readingAs('GET /api/people/me', showAccount)
