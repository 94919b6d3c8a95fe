import type { NoticeWords } from './words'

export const nl: NoticeWords = {
  hello: 'Hallo',
  there: 'daar',
  where: 'Waar het is',
  see: 'Bekijk waar het is',
  numbers: 'Trackingnummer',
  about: (parcels, of) => `Dit gaat over pakket ${parcels} van ${of}.`,
  stop: 'Geen berichten meer over uw bestellingen',
  smsStop: 'Geen sms meer: antwoord STOP.',
  steps: {
    'label made': {
      subject: 'Uw bestelling {{ order.number }} is onderweg',
      says: 'uw bestelling {{ order.number }} is ingepakt en reist met {{ carrier }}.{% if day != "" %} U ontvangt ze naar verwachting op {{ day }}.{% endif %}',
      sms: '{{ seller.name }}: bestelling {{ order.number }} reist met {{ carrier }}. {{ link }}',
    },
    'number changed': {
      subject: 'Een nieuw trackingnummer voor uw bestelling {{ order.number }}',
      says: 'het trackingnummer dat we u voor bestelling {{ order.number }} stuurden, wordt niet meer gebruikt. Ze reist met {{ carrier }} onder het nummer hieronder.{% if day != "" %} U ontvangt ze naar verwachting op {{ day }}.{% endif %}',
      sms: '{{ seller.name }}: nieuw trackingnummer voor bestelling {{ order.number }}: {{ parcel.numbers }}. {{ link }}',
    },
    collected: {
      subject: '{{ carrier }} heeft uw bestelling {{ order.number }}',
      says: '{{ carrier }} heeft uw bestelling {{ order.number }} opgehaald.{% if day != "" %} U ontvangt ze naar verwachting op {{ day }}.{% endif %}',
      sms: '{{ seller.name }}: {{ carrier }} heeft bestelling {{ order.number }} opgehaald. {{ link }}',
    },
    'out for delivery': {
      subject: 'Uw bestelling {{ order.number }} komt vandaag',
      says: 'uw bestelling {{ order.number }} is bij de chauffeur en komt vandaag.',
      sms: '{{ seller.name }}: bestelling {{ order.number }} komt vandaag. {{ link }}',
    },
    'waiting to be fetched': {
      subject: 'Uw bestelling {{ order.number }} ligt klaar',
      says: 'uw bestelling {{ order.number }} ligt klaar om af te halen{% if place != "" %}: {{ place }}{% endif %}. Breng een identiteitsbewijs mee.',
      sms: '{{ seller.name }}: bestelling {{ order.number }} ligt klaar{% if place != "" %}: {{ place }}{% endif %}. {{ link }}',
    },
    delivered: {
      subject: 'Uw bestelling {{ order.number }} is aangekomen',
      says: 'uw bestelling {{ order.number }} is bezorgd{% if day != "" %} op {{ day }}{% endif %}. Vindt u ze niet? Laat het ons weten op de pagina hieronder.',
      sms: '{{ seller.name }}: bestelling {{ order.number }} is bezorgd. {{ link }}',
    },
    delayed: {
      subject: 'Uw bestelling {{ order.number }} komt later',
      says: 'uw bestelling {{ order.number }} doet er langer over dan we zeiden. Onze excuses.{% if day != "" %} Zoals het er nu uitziet, ontvangt u ze op {{ day }}.{% endif %}',
      sms: '{{ seller.name }}: bestelling {{ order.number }} komt later{% if day != "" %}, wellicht op {{ day }}{% endif %}. {{ link }}',
    },
    'delivery failed': {
      subject: 'Uw bestelling {{ order.number }} kon niet worden bezorgd',
      says: '{{ carrier }} kon uw bestelling {{ order.number }} niet bezorgen. Er volgt een nieuwe poging, of ze ligt in de buurt voor u klaar: de pagina hieronder zegt wat.',
      sms: '{{ seller.name }}: bestelling {{ order.number }} kon niet worden bezorgd. {{ link }}',
    },
    'coming back': {
      subject: 'Uw bestelling {{ order.number }} komt naar ons terug',
      says: 'uw bestelling {{ order.number }} kon niet worden bezorgd en komt naar ons terug. Laat ons weten wat we moeten doen.',
      sms: '{{ seller.name }}: bestelling {{ order.number }} komt naar ons terug. Zeg ons wat we moeten doen: {{ link }}',
    },
    'arrived back': {
      subject: 'Uw bestelling {{ order.number }} is terug bij ons',
      says: 'uw bestelling {{ order.number }} is terug bij ons aangekomen. We schrijven u over wat er nu gebeurt.',
      sms: '{{ seller.name }}: bestelling {{ order.number }} is terug bij ons. {{ link }}',
    },
    'return agreed': {
      see: 'Uw retour',
      subject: 'U kunt het terugsturen: bestelling {{ order.number }}',
      says: 'u kunt terugsturen waarom u vroeg van uw bestelling {{ order.number }}.{% if parcel.numbers != "" %} Het label zit bij deze mail en staat op de pagina hieronder{% if day != "" %}; het is te gebruiken tot en met {{ day }}{% endif %}.{% else %} Waarheen staat op de pagina hieronder.{% endif %}',
      sms: '{{ seller.name }}: u kunt terugsturen van bestelling {{ order.number }}. {{ link }}',
    },
    'return refused': {
      see: 'Uw retour',
      subject: 'Over uw retour van bestelling {{ order.number }}',
      says: 'we kunnen niet terugnemen waarom u vroeg van uw bestelling {{ order.number }}.{% if why != "" %} {{ why }}{% endif %}',
      sms: '{{ seller.name }}: over uw retour van bestelling {{ order.number }}: {{ link }}',
    },
    'return arrived': {
      see: 'Uw retour',
      subject: 'Uw retour van bestelling {{ order.number }} is aangekomen',
      says: 'wat u van uw bestelling {{ order.number }} hebt teruggestuurd, is bij ons. We bekijken het en schrijven u wat u terugkrijgt.',
      sms: '{{ seller.name }}: uw retour van bestelling {{ order.number }} is aangekomen. {{ link }}',
    },
    'paid back': {
      see: 'Uw retour',
      subject: 'U krijgt {{ refund }} terug: bestelling {{ order.number }}',
      says: 'we hebben bekeken wat u van uw bestelling {{ order.number }} hebt teruggestuurd. U krijgt {{ refund }} terug, op de manier waarop u betaalde.',
      sms: '{{ seller.name }}: u krijgt {{ refund }} terug voor bestelling {{ order.number }}. {{ link }}',
    },
  },
}
