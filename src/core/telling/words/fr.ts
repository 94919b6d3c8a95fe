import type { NoticeWords } from './words'

export const fr: NoticeWords = {
  hello: 'Bonjour',
  there: '',
  where: 'Où elle se trouve',
  see: 'Voir où elle se trouve',
  numbers: 'Numéro de suivi',
  about: (parcels, of) => `Ceci concerne le colis ${parcels} sur ${of}.`,
  stop: 'Ne plus recevoir de messages sur mes commandes',
  smsStop: 'Plus de SMS : répondez STOP.',
  steps: {
    'label made': {
      subject: 'Votre commande {{ order.number }} est en route',
      says: 'votre commande {{ order.number }} est emballée et voyage avec {{ carrier }}.{% if day != "" %} Elle devrait arriver le {{ day }}.{% endif %}',
      sms: '{{ seller.name }} : la commande {{ order.number }} voyage avec {{ carrier }}. {{ link }}',
    },
    'number changed': {
      subject: 'Un nouveau numéro de suivi pour votre commande {{ order.number }}',
      says: 'le numéro de suivi que nous vous avons envoyé pour la commande {{ order.number }} n’est plus utilisé. Elle voyage avec {{ carrier }} sous le numéro ci-dessous.{% if day != "" %} Elle devrait arriver le {{ day }}.{% endif %}',
      sms: '{{ seller.name }} : nouveau numéro de suivi pour la commande {{ order.number }} : {{ parcel.numbers }}. {{ link }}',
    },
    collected: {
      subject: '{{ carrier }} a votre commande {{ order.number }}',
      says: '{{ carrier }} a enlevé votre commande {{ order.number }}.{% if day != "" %} Elle devrait arriver le {{ day }}.{% endif %}',
      sms: '{{ seller.name }} : {{ carrier }} a enlevé la commande {{ order.number }}. {{ link }}',
    },
    'out for delivery': {
      subject: 'Votre commande {{ order.number }} arrive aujourd’hui',
      says: 'votre commande {{ order.number }} est avec le livreur et arrive aujourd’hui.',
      sms: '{{ seller.name }} : la commande {{ order.number }} arrive aujourd’hui. {{ link }}',
    },
    'waiting to be fetched': {
      subject: 'Votre commande {{ order.number }} vous attend',
      says: 'votre commande {{ order.number }} vous attend{% if place != "" %} : {{ place }}{% endif %}. Merci d’apporter une pièce d’identité.',
      sms: '{{ seller.name }} : la commande {{ order.number }} vous attend{% if place != "" %} : {{ place }}{% endif %}. {{ link }}',
    },
    delivered: {
      subject: 'Votre commande {{ order.number }} est arrivée',
      says: 'votre commande {{ order.number }} a été livrée{% if day != "" %} le {{ day }}{% endif %}. Si vous ne la trouvez pas, dites-le-nous sur la page ci-dessous.',
      sms: '{{ seller.name }} : la commande {{ order.number }} a été livrée. {{ link }}',
    },
    delayed: {
      subject: 'Votre commande {{ order.number }} arrive plus tard',
      says: 'votre commande {{ order.number }} prend plus de temps que prévu, et nous le regrettons.{% if day != "" %} D’après ce que nous voyons, elle devrait arriver le {{ day }}.{% endif %}',
      sms: '{{ seller.name }} : la commande {{ order.number }} arrive plus tard{% if day != "" %}, sans doute le {{ day }}{% endif %}. {{ link }}',
    },
    'delivery failed': {
      subject: 'Votre commande {{ order.number }} n’a pas pu être livrée',
      says: '{{ carrier }} n’a pas pu livrer votre commande {{ order.number }}. Un nouvel essai suit, ou elle vous attend près de chez vous : la page ci-dessous le dit.',
      sms: '{{ seller.name }} : la commande {{ order.number }} n’a pas pu être livrée. {{ link }}',
    },
    'coming back': {
      subject: 'Votre commande {{ order.number }} revient chez nous',
      says: 'votre commande {{ order.number }} n’a pas pu être livrée et revient chez nous. Dites-nous ce que nous devons faire.',
      sms: '{{ seller.name }} : la commande {{ order.number }} revient chez nous. Que devons-nous faire ? {{ link }}',
    },
    'arrived back': {
      subject: 'Votre commande {{ order.number }} est revenue chez nous',
      says: 'votre commande {{ order.number }} est revenue chez nous. Nous vous écrirons pour la suite.',
      sms: '{{ seller.name }} : la commande {{ order.number }} est revenue chez nous. {{ link }}',
    },
    'return agreed': {
      see: 'Votre retour',
      subject: 'Vous pouvez le renvoyer : commande {{ order.number }}',
      says: 'vous pouvez renvoyer ce que vous avez demandé de votre commande {{ order.number }}.{% if parcel.numbers != "" %} L’étiquette est jointe à ce message et se trouve sur la page ci-dessous{% if day != "" %} ; elle est valable jusqu’au {{ day }}{% endif %}.{% else %} L’adresse se trouve sur la page ci-dessous.{% endif %}',
      sms: '{{ seller.name }} : vous pouvez renvoyer votre article de la commande {{ order.number }}. {{ link }}',
    },
    'return refused': {
      see: 'Votre retour',
      subject: 'À propos de votre retour de la commande {{ order.number }}',
      says: 'nous ne pouvons pas reprendre ce que vous avez demandé de votre commande {{ order.number }}.{% if why != "" %} {{ why }}{% endif %}',
      sms: '{{ seller.name }} : à propos de votre retour de la commande {{ order.number }} : {{ link }}',
    },
    'return arrived': {
      see: 'Votre retour',
      subject: 'Votre retour de la commande {{ order.number }} est arrivé',
      says: 'ce que vous avez renvoyé de votre commande {{ order.number }} est arrivé. Nous l’examinons et vous écrivons ce qui vous est remboursé.',
      sms: '{{ seller.name }} : votre retour de la commande {{ order.number }} est arrivé. {{ link }}',
    },
    'paid back': {
      see: 'Votre retour',
      subject: 'Vous êtes remboursé de {{ refund }} : commande {{ order.number }}',
      says: 'nous avons examiné ce que vous avez renvoyé de votre commande {{ order.number }}. {{ refund }} vous sont remboursés, par le moyen de votre paiement.',
      sms: '{{ seller.name }} : {{ refund }} vous sont remboursés pour la commande {{ order.number }}. {{ link }}',
    },
  },
}
