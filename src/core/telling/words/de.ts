import type { NoticeWords } from './words'

export const de: NoticeWords = {
  hello: 'Guten Tag',
  there: '',
  where: 'Wo sie ist',
  see: 'Nachsehen, wo sie ist',
  numbers: 'Sendungsnummer',
  about: (parcels, of) => `Das betrifft Paket ${parcels} von ${of}.`,
  stop: 'Keine Nachrichten mehr zu meinen Bestellungen',
  smsStop: 'Keine SMS mehr: antworten Sie STOP.',
  steps: {
    'label made': {
      subject: 'Ihre Bestellung {{ order.number }} ist unterwegs',
      says: 'Ihre Bestellung {{ order.number }} ist gepackt und reist mit {{ carrier }}.{% if day != "" %} Sie sollte am {{ day }} bei Ihnen sein.{% endif %}',
      sms: '{{ seller.name }}: Bestellung {{ order.number }} reist mit {{ carrier }}. {{ link }}',
    },
    'number changed': {
      subject: 'Eine neue Sendungsnummer für Ihre Bestellung {{ order.number }}',
      says: 'die Sendungsnummer, die wir Ihnen zur Bestellung {{ order.number }} schickten, gilt nicht mehr. Die Bestellung reist mit {{ carrier }} unter der Nummer unten.{% if day != "" %} Sie sollte am {{ day }} bei Ihnen sein.{% endif %}',
      sms: '{{ seller.name }}: neue Sendungsnummer zu Bestellung {{ order.number }}: {{ parcel.numbers }}. {{ link }}',
    },
    collected: {
      subject: '{{ carrier }} hat Ihre Bestellung {{ order.number }}',
      says: '{{ carrier }} hat Ihre Bestellung {{ order.number }} abgeholt.{% if day != "" %} Sie sollte am {{ day }} bei Ihnen sein.{% endif %}',
      sms: '{{ seller.name }}: {{ carrier }} hat Bestellung {{ order.number }} abgeholt. {{ link }}',
    },
    'out for delivery': {
      subject: 'Ihre Bestellung {{ order.number }} kommt heute',
      says: 'Ihre Bestellung {{ order.number }} ist beim Fahrer und kommt heute.',
      sms: '{{ seller.name }}: Bestellung {{ order.number }} kommt heute. {{ link }}',
    },
    'waiting to be fetched': {
      subject: 'Ihre Bestellung {{ order.number }} liegt bereit',
      says: 'Ihre Bestellung {{ order.number }} liegt zur Abholung bereit{% if place != "" %}: {{ place }}{% endif %}. Bitte bringen Sie einen Ausweis mit.',
      sms: '{{ seller.name }}: Bestellung {{ order.number }} liegt bereit{% if place != "" %}: {{ place }}{% endif %}. {{ link }}',
    },
    delivered: {
      subject: 'Ihre Bestellung {{ order.number }} ist angekommen',
      says: 'Ihre Bestellung {{ order.number }} wurde{% if day != "" %} am {{ day }}{% endif %} zugestellt. Finden Sie sie nicht, so sagen Sie es uns auf der Seite unten.',
      sms: '{{ seller.name }}: Bestellung {{ order.number }} wurde zugestellt. {{ link }}',
    },
    delayed: {
      subject: 'Ihre Bestellung {{ order.number }} kommt später',
      says: 'Ihre Bestellung {{ order.number }} braucht länger, als wir sagten. Das tut uns leid.{% if day != "" %} Nach jetzigem Stand sollte sie am {{ day }} bei Ihnen sein.{% endif %}',
      sms: '{{ seller.name }}: Bestellung {{ order.number }} kommt später{% if day != "" %}, wohl am {{ day }}{% endif %}. {{ link }}',
    },
    'delivery failed': {
      subject: 'Ihre Bestellung {{ order.number }} konnte nicht zugestellt werden',
      says: '{{ carrier }} konnte Ihre Bestellung {{ order.number }} nicht zustellen. Es wird noch einmal versucht, oder sie liegt in der Nähe bereit: Die Seite unten sagt, was davon.',
      sms: '{{ seller.name }}: Bestellung {{ order.number }} konnte nicht zugestellt werden. {{ link }}',
    },
    'coming back': {
      subject: 'Ihre Bestellung {{ order.number }} kommt zu uns zurück',
      says: 'Ihre Bestellung {{ order.number }} konnte nicht zugestellt werden und kommt zu uns zurück. Bitte sagen Sie uns, was wir tun sollen.',
      sms: '{{ seller.name }}: Bestellung {{ order.number }} kommt zu uns zurück. Was sollen wir tun? {{ link }}',
    },
    'arrived back': {
      subject: 'Ihre Bestellung {{ order.number }} ist wieder bei uns',
      says: 'Ihre Bestellung {{ order.number }} ist wieder bei uns angekommen. Wir schreiben Ihnen, wie es weitergeht.',
      sms: '{{ seller.name }}: Bestellung {{ order.number }} ist wieder bei uns. {{ link }}',
    },
    'return agreed': {
      see: 'Ihre Rücksendung',
      subject: 'Sie können es zurücksenden: Bestellung {{ order.number }}',
      says: 'Sie können zurücksenden, worum Sie zu Ihrer Bestellung {{ order.number }} gebeten haben.{% if parcel.numbers != "" %} Das Etikett liegt diesem Brief bei und steht auf der Seite unten{% if day != "" %}; es gilt bis {{ day }}{% endif %}.{% else %} Wohin, steht auf der Seite unten.{% endif %}',
      sms: '{{ seller.name }}: Sie können aus Bestellung {{ order.number }} zurücksenden. {{ link }}',
    },
    'return refused': {
      see: 'Ihre Rücksendung',
      subject: 'Zu Ihrer Rücksendung aus Bestellung {{ order.number }}',
      says: 'wir können nicht zurücknehmen, worum Sie zu Ihrer Bestellung {{ order.number }} gebeten haben.{% if why != "" %} {{ why }}{% endif %}',
      sms: '{{ seller.name }}: zu Ihrer Rücksendung aus Bestellung {{ order.number }}: {{ link }}',
    },
    'return arrived': {
      see: 'Ihre Rücksendung',
      subject: 'Ihre Rücksendung aus Bestellung {{ order.number }} ist da',
      says: 'was Sie aus Ihrer Bestellung {{ order.number }} zurückgesandt haben, ist bei uns. Wir sehen es an und schreiben Ihnen, was Sie zurückbekommen.',
      sms: '{{ seller.name }}: Ihre Rücksendung aus Bestellung {{ order.number }} ist da. {{ link }}',
    },
    'paid back': {
      see: 'Ihre Rücksendung',
      subject: 'Sie bekommen {{ refund }} zurück: Bestellung {{ order.number }}',
      says: 'wir haben angesehen, was Sie aus Ihrer Bestellung {{ order.number }} zurückgesandt haben. Sie bekommen {{ refund }} zurück, auf dem Weg, auf dem Sie bezahlt haben.',
      sms: '{{ seller.name }}: Sie bekommen {{ refund }} zu Bestellung {{ order.number }} zurück. {{ link }}',
    },
  },
}
