import type { QuestionWords } from './words'

export const fr: QuestionWords = {
  answer: 'Répondre ici',
  byMail: 'Ou répondez simplement à ce message.',
  questions: {
    'po box': {
      subject: 'Quelle adresse pouvons-nous utiliser pour votre commande {{ order.number }} ?',
      says: 'nous ne pouvons pas livrer votre commande {{ order.number }} à une boîte postale. Quelle adresse pouvons-nous utiliser ? Merci de nous donner le nom, la rue avec le numéro, le code postal et la ville.',
    },
    address: {
      subject: 'Nous ne trouvons pas l’adresse de votre commande {{ order.number }}',
      says: 'nous ne trouvons pas l’adresse que nous avons pour votre commande {{ order.number }} :\n\n{{ order.address }}\n\nQuelle est la bonne ? Merci de nous donner l’adresse complète.',
    },
    telephone: {
      subject: 'Un numéro de téléphone pour votre commande {{ order.number }}',
      says: 'le transporteur de votre commande {{ order.number }} demande un numéro de téléphone pour dire quand il passe. Lequel pouvons-nous donner ?',
    },
    later: {
      subject: 'Votre commande {{ order.number }} partirait plus tard',
      says: 'nous ne pouvons envoyer votre commande {{ order.number }} que quelques jours plus tard que prévu, et nous le regrettons. Devons-nous l’envoyer alors, ou préférez-vous être remboursé ?',
    },
    'out of stock': {
      subject: 'Un article de votre commande {{ order.number }} n’est pas en stock',
      says: 'tout n’est pas en stock dans votre commande {{ order.number }}. Devons-nous attendre et envoyer le tout, envoyer ce que nous avons, ou rembourser ce qui manque ?',
    },
  },
}
