import type { NoticeWords } from './words'

export const en: NoticeWords = {
  hello: 'Hello',
  there: 'there',
  where: 'Where it is',
  see: 'See where it is',
  numbers: 'Tracking number',
  about: (parcels, of) => `This is about parcel ${parcels} of ${of}.`,
  stop: 'No more letters about your orders',
  smsStop: 'No more texts: answer STOP.',
  steps: {
    'label made': {
      subject: 'Your order {{ order.number }} is on its way',
      says: 'your order {{ order.number }} is packed and travels with {{ carrier }}.{% if day != "" %} It should be with you on {{ day }}.{% endif %}',
      sms: '{{ seller.name }}: order {{ order.number }} travels with {{ carrier }}. {{ link }}',
    },
    'number changed': {
      subject: 'A new tracking number for your order {{ order.number }}',
      says: 'the tracking number that we sent you for your order {{ order.number }} is no longer used. It travels with {{ carrier }} under the number below.{% if day != "" %} It should be with you on {{ day }}.{% endif %}',
      sms: '{{ seller.name }}: new tracking number for order {{ order.number }}: {{ parcel.numbers }}. {{ link }}',
    },
    collected: {
      subject: '{{ carrier }} has your order {{ order.number }}',
      says: '{{ carrier }} has collected your order {{ order.number }}.{% if day != "" %} It should be with you on {{ day }}.{% endif %}',
      sms: '{{ seller.name }}: {{ carrier }} has collected order {{ order.number }}. {{ link }}',
    },
    'out for delivery': {
      subject: 'Your order {{ order.number }} comes today',
      says: 'your order {{ order.number }} is with the driver and comes today.',
      sms: '{{ seller.name }}: order {{ order.number }} comes today. {{ link }}',
    },
    'waiting to be fetched': {
      subject: 'Your order {{ order.number }} waits for you',
      says: 'your order {{ order.number }} waits to be fetched{% if place != "" %}: {{ place }}{% endif %}. Please bring something that shows who you are.',
      sms: '{{ seller.name }}: order {{ order.number }} waits for you{% if place != "" %}: {{ place }}{% endif %}. {{ link }}',
    },
    delivered: {
      subject: 'Your order {{ order.number }} has arrived',
      says: 'your order {{ order.number }} was delivered{% if day != "" %} on {{ day }}{% endif %}. If you cannot find it, tell us on the page below.',
      sms: '{{ seller.name }}: order {{ order.number }} was delivered. {{ link }}',
    },
    delayed: {
      subject: 'Your order {{ order.number }} comes later',
      says: 'your order {{ order.number }} takes longer than we said, and we are sorry.{% if day != "" %} By what we see now it should be with you on {{ day }}.{% endif %}',
      sms: '{{ seller.name }}: order {{ order.number }} comes later{% if day != "" %}, likely on {{ day }}{% endif %}. {{ link }}',
    },
    'delivery failed': {
      subject: 'Your order {{ order.number }} could not be delivered',
      says: '{{ carrier }} could not deliver your order {{ order.number }}. It is tried again, or waits for you nearby: the page below says which.',
      sms: '{{ seller.name }}: order {{ order.number }} could not be delivered. {{ link }}',
    },
    'coming back': {
      subject: 'Your order {{ order.number }} is coming back to us',
      says: 'your order {{ order.number }} could not be delivered and is on its way back to us. Please tell us what we should do.',
      sms: '{{ seller.name }}: order {{ order.number }} is coming back to us. Tell us what to do: {{ link }}',
    },
    'arrived back': {
      subject: 'Your order {{ order.number }} is back with us',
      says: 'your order {{ order.number }} has arrived back with us. We write to you about what comes next.',
      sms: '{{ seller.name }}: order {{ order.number }} is back with us. {{ link }}',
    },
    'return agreed': {
      see: 'Your return',
      subject: 'You can send it back: order {{ order.number }}',
      says: 'you can send back what you asked for of your order {{ order.number }}.{% if parcel.numbers != "" %} The label is with this letter, and on the page below{% if day != "" %}; it can be used until {{ day }}{% endif %}.{% else %} Where to send it stands on the page below.{% endif %}',
      sms: '{{ seller.name }}: you can send back what you asked for of order {{ order.number }}. {{ link }}',
    },
    'return refused': {
      see: 'Your return',
      subject: 'About your return of order {{ order.number }}',
      says: 'we cannot take back what you asked for of your order {{ order.number }}.{% if why != "" %} {{ why }}{% endif %}',
      sms: '{{ seller.name }}: about your return of order {{ order.number }}: {{ link }}',
    },
    'return arrived': {
      see: 'Your return',
      subject: 'Your return of order {{ order.number }} has arrived',
      says: 'what you sent back of your order {{ order.number }} has arrived. We look at it and write to you about what you get back.',
      sms: '{{ seller.name }}: your return of order {{ order.number }} has arrived. {{ link }}',
    },
    'paid back': {
      see: 'Your return',
      subject: 'You get {{ refund }} back: order {{ order.number }}',
      says: 'we have looked at what you sent back of your order {{ order.number }}. You get {{ refund }} back, the way you paid.',
      sms: '{{ seller.name }}: you get {{ refund }} back for order {{ order.number }}. {{ link }}',
    },
  },
}
