import type { QuestionWords } from './words'

export const nl: QuestionWords = {
  answer: 'Hier antwoorden',
  byMail: 'Of beantwoord gewoon deze mail.',
  questions: {
    'po box': {
      subject: 'Welk adres mogen we gebruiken voor uw bestelling {{ order.number }}?',
      says: 'we kunnen uw bestelling {{ order.number }} niet aan een postbus leveren. Welk adres mogen we gebruiken? Stuur ons naam, straat met huisnummer, postcode en plaats.',
    },
    address: {
      subject: 'We vinden het adres van uw bestelling {{ order.number }} niet',
      says: 'we vinden het adres niet dat we voor uw bestelling {{ order.number }} hebben:\n\n{{ order.address }}\n\nHoe is het juist? Stuur ons het volledige adres.',
    },
    telephone: {
      subject: 'Een telefoonnummer voor uw bestelling {{ order.number }}',
      says: 'de vervoerder van uw bestelling {{ order.number }} vraagt een telefoonnummer om te laten weten wanneer ze komt. Welk nummer mogen we geven?',
    },
    later: {
      subject: 'Uw bestelling {{ order.number }} zou later vertrekken',
      says: 'we kunnen uw bestelling {{ order.number }} pas enkele dagen later versturen dan gezegd; dat spijt ons. Zullen we ze dan versturen, of heeft u liever uw geld terug?',
    },
    'out of stock': {
      subject: 'Iets in uw bestelling {{ order.number }} is niet op voorraad',
      says: 'niet alles in uw bestelling {{ order.number }} is op voorraad. Zullen we wachten en alles samen sturen, sturen wat er is, of terugbetalen wat ontbreekt?',
    },
  },
}
