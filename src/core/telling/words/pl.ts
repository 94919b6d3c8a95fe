import type { NoticeWords } from './words'

export const pl: NoticeWords = {
  hello: 'Dzień dobry',
  there: '',
  where: 'Gdzie jest',
  see: 'Zobacz, gdzie jest',
  numbers: 'Numer przesyłki',
  about: (parcels, of) => `Dotyczy paczki ${parcels} z ${of}.`,
  stop: 'Bez dalszych wiadomości o moich zamówieniach',
  smsStop: 'Bez SMS-ów: odpowiedz STOP.',
  steps: {
    'label made': {
      subject: 'Zamówienie {{ order.number }} jest w drodze',
      says: 'zamówienie {{ order.number }} jest spakowane i jedzie z {{ carrier }}.{% if day != "" %} Powinno dotrzeć: {{ day }}.{% endif %}',
      sms: '{{ seller.name }}: zamówienie {{ order.number }} jedzie z {{ carrier }}. {{ link }}',
    },
    'number changed': {
      subject: 'Nowy numer przesyłki dla zamówienia {{ order.number }}',
      says: 'numer przesyłki podany dla zamówienia {{ order.number }} nie jest już używany. Zamówienie jedzie z {{ carrier }} pod numerem poniżej.{% if day != "" %} Powinno dotrzeć: {{ day }}.{% endif %}',
      sms: '{{ seller.name }}: nowy numer przesyłki dla zamówienia {{ order.number }}: {{ parcel.numbers }}. {{ link }}',
    },
    collected: {
      subject: '{{ carrier }} ma zamówienie {{ order.number }}',
      says: '{{ carrier }} ma już zamówienie {{ order.number }}.{% if day != "" %} Powinno dotrzeć: {{ day }}.{% endif %}',
      sms: '{{ seller.name }}: {{ carrier }} ma zamówienie {{ order.number }}. {{ link }}',
    },
    'out for delivery': {
      subject: 'Zamówienie {{ order.number }} dotrze dzisiaj',
      says: 'zamówienie {{ order.number }} jest u kierowcy i dotrze dzisiaj.',
      sms: '{{ seller.name }}: zamówienie {{ order.number }} dotrze dzisiaj. {{ link }}',
    },
    'waiting to be fetched': {
      subject: 'Zamówienie {{ order.number }} czeka na odbiór',
      says: 'zamówienie {{ order.number }} czeka na odbiór{% if place != "" %}: {{ place }}{% endif %}. Prosimy zabrać dokument tożsamości.',
      sms: '{{ seller.name }}: zamówienie {{ order.number }} czeka na odbiór{% if place != "" %}: {{ place }}{% endif %}. {{ link }}',
    },
    delivered: {
      subject: 'Zamówienie {{ order.number }} dotarło',
      says: 'zamówienie {{ order.number }} zostało doręczone{% if day != "" %}: {{ day }}{% endif %}. Jeśli go nie ma, prosimy napisać na stronie poniżej.',
      sms: '{{ seller.name }}: zamówienie {{ order.number }} zostało doręczone. {{ link }}',
    },
    delayed: {
      subject: 'Zamówienie {{ order.number }} dotrze później',
      says: 'zamówienie {{ order.number }} jedzie dłużej, niż podaliśmy. Przepraszamy.{% if day != "" %} Według obecnych danych powinno dotrzeć: {{ day }}.{% endif %}',
      sms: '{{ seller.name }}: zamówienie {{ order.number }} dotrze później{% if day != "" %}, raczej {{ day }}{% endif %}. {{ link }}',
    },
    'delivery failed': {
      subject: 'Zamówienia {{ order.number }} nie udało się doręczyć',
      says: '{{ carrier }} nie zdołał doręczyć zamówienia {{ order.number }}. Będzie kolejna próba albo zamówienie czeka w pobliżu: mówi o tym strona poniżej.',
      sms: '{{ seller.name }}: zamówienia {{ order.number }} nie udało się doręczyć. {{ link }}',
    },
    'coming back': {
      subject: 'Zamówienie {{ order.number }} wraca do nas',
      says: 'zamówienia {{ order.number }} nie udało się doręczyć i wraca do nas. Prosimy napisać, co mamy zrobić.',
      sms: '{{ seller.name }}: zamówienie {{ order.number }} wraca do nas. Co mamy zrobić? {{ link }}',
    },
    'arrived back': {
      subject: 'Zamówienie {{ order.number }} wróciło do nas',
      says: 'zamówienie {{ order.number }} wróciło do nas. Napiszemy, co dalej.',
      sms: '{{ seller.name }}: zamówienie {{ order.number }} wróciło do nas. {{ link }}',
    },
    'return agreed': {
      see: 'Twój zwrot',
      subject: 'Możesz to odesłać: zamówienie {{ order.number }}',
      says: 'możesz odesłać to, o co prosisz z zamówienia {{ order.number }}.{% if parcel.numbers != "" %} Etykieta jest w załączniku i na stronie poniżej{% if day != "" %}; jest ważna do: {{ day }}{% endif %}.{% else %} Adres jest na stronie poniżej.{% endif %}',
      sms: '{{ seller.name }}: możesz odesłać z zamówienia {{ order.number }}. {{ link }}',
    },
    'return refused': {
      see: 'Twój zwrot',
      subject: 'W sprawie zwrotu z zamówienia {{ order.number }}',
      says: 'nie możemy przyjąć zwrotu, o który prosisz z zamówienia {{ order.number }}.{% if why != "" %} {{ why }}{% endif %}',
      sms: '{{ seller.name }}: w sprawie zwrotu z zamówienia {{ order.number }}: {{ link }}',
    },
    'return arrived': {
      see: 'Twój zwrot',
      subject: 'Twój zwrot z zamówienia {{ order.number }} dotarł',
      says: 'to, co odesłano z zamówienia {{ order.number }}, dotarło do nas. Obejrzymy to i napiszemy, ile zwracamy.',
      sms: '{{ seller.name }}: Twój zwrot z zamówienia {{ order.number }} dotarł. {{ link }}',
    },
    'paid back': {
      see: 'Twój zwrot',
      subject: 'Zwracamy {{ refund }}: zamówienie {{ order.number }}',
      says: 'obejrzeliśmy to, co odesłano z zamówienia {{ order.number }}. Zwracamy {{ refund }} tą drogą, którą zapłacono.',
      sms: '{{ seller.name }}: zwracamy {{ refund }} za zamówienie {{ order.number }}. {{ link }}',
    },
  },
}
