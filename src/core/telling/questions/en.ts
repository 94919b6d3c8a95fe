import type { QuestionWords } from './words'

export const en: QuestionWords = {
  answer: 'Answer here',
  byMail: 'Or simply answer this letter.',
  questions: {
    'po box': {
      subject: 'Which address may we use for your order {{ order.number }}?',
      says: 'we cannot deliver your order {{ order.number }} to a post-office box. Which address may we use? Please send us name, street with number, postcode and town.',
    },
    address: {
      subject: 'We cannot find the address of your order {{ order.number }}',
      says: 'we cannot find the address that we have for your order {{ order.number }}:\n\n{{ order.address }}\n\nHow is it right? Please send us the whole address.',
    },
    telephone: {
      subject: 'A telephone number for your order {{ order.number }}',
      says: 'the carrier of your order {{ order.number }} asks for a telephone number, to say when it comes. Which one may we give?',
    },
    later: {
      subject: 'Your order {{ order.number }} would leave later',
      says: 'we can send your order {{ order.number }} some days later than we said, and we are sorry. Shall we send it then, or would you rather have your money back?',
    },
    'out of stock': {
      subject: 'Something in your order {{ order.number }} is out of stock',
      says: 'not everything in your order {{ order.number }} is in stock. Shall we wait and send it together, send what we have, or pay back what is missing?',
    },
  },
}
