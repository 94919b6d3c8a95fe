'use client'
import { useQuery } from '@tanstack/react-query'
import type { SetupView } from '@/usecases/setup/showSetup'
import { call } from '../kit/api'

/** All that is set up, as fresh as it was asked for last. */
export const useSetup = (initial: SetupView): SetupView =>
  useQuery({
    queryKey: ['setup'],
    queryFn: () => call('GET /api/setup'),
    initialData: initial,
    refetchInterval: 6000,
  }).data
