import type { QuestionWords } from './words'

export const de: QuestionWords = {
  answer: 'Hier antworten',
  byMail: 'Oder antworten Sie einfach auf diese Mail.',
  questions: {
    'po box': {
      subject: 'Welche Adresse dürfen wir für Ihre Bestellung {{ order.number }} nehmen?',
      says: 'wir können Ihre Bestellung {{ order.number }} nicht an ein Postfach liefern. Welche Adresse dürfen wir nehmen? Bitte senden Sie uns Name, Straße mit Hausnummer, Postleitzahl und Ort.',
    },
    address: {
      subject: 'Wir finden die Adresse Ihrer Bestellung {{ order.number }} nicht',
      says: 'wir finden die Adresse nicht, die wir zu Ihrer Bestellung {{ order.number }} haben:\n\n{{ order.address }}\n\nWie ist sie richtig? Bitte senden Sie uns die ganze Adresse.',
    },
    telephone: {
      subject: 'Eine Telefonnummer für Ihre Bestellung {{ order.number }}',
      says: 'der Paketdienst Ihrer Bestellung {{ order.number }} bittet um eine Telefonnummer, um zu sagen, wann sie kommt. Welche dürfen wir nennen?',
    },
    later: {
      subject: 'Ihre Bestellung {{ order.number }} ginge später auf den Weg',
      says: 'wir können Ihre Bestellung {{ order.number }} erst einige Tage später senden als gesagt; das tut uns leid. Sollen wir sie dann senden, oder möchten Sie lieber Ihr Geld zurück?',
    },
    'out of stock': {
      subject: 'Etwas in Ihrer Bestellung {{ order.number }} ist nicht auf Lager',
      says: 'nicht alles in Ihrer Bestellung {{ order.number }} ist auf Lager. Sollen wir warten und alles zusammen senden, senden, was da ist, oder zurückzahlen, was fehlt?',
    },
  },
}
