import type { QuestionWords } from './words'

export const pl: QuestionWords = {
  answer: 'Odpowiedz tutaj',
  byMail: 'Można też po prostu odpowiedzieć na tę wiadomość.',
  questions: {
    'po box': {
      subject: 'Na jaki adres wysłać zamówienie {{ order.number }}?',
      says: 'nie możemy dostarczyć zamówienia {{ order.number }} do skrytki pocztowej. Jakiego adresu możemy użyć? Prosimy o imię i nazwisko, ulicę z numerem, kod pocztowy i miejscowość.',
    },
    address: {
      subject: 'Nie możemy znaleźć adresu zamówienia {{ order.number }}',
      says: 'nie możemy znaleźć adresu, który mamy dla zamówienia {{ order.number }}:\n\n{{ order.address }}\n\nJaki jest poprawny? Prosimy o cały adres.',
    },
    telephone: {
      subject: 'Numer telefonu do zamówienia {{ order.number }}',
      says: 'przewoźnik zamówienia {{ order.number }} prosi o numer telefonu, aby powiedzieć, kiedy przyjedzie. Jaki możemy podać?',
    },
    later: {
      subject: 'Zamówienie {{ order.number }} wyruszyłoby później',
      says: 'możemy wysłać zamówienie {{ order.number }} dopiero kilka dni później, niż obiecaliśmy; przepraszamy. Czy mamy je wtedy wysłać, czy wolą Państwo zwrot pieniędzy?',
    },
    'out of stock': {
      subject: 'Czegoś z zamówienia {{ order.number }} nie ma w magazynie',
      says: 'nie wszystko z zamówienia {{ order.number }} jest w magazynie. Czy mamy poczekać i wysłać razem, wysłać to, co jest, czy zwrócić pieniądze za to, czego brakuje?',
    },
  },
}
