/** Made-up people at real places, with postcodes of the right form. */
export const firstNames = [
  'Noor',
  'Lotte',
  'Jef',
  'Wout',
  'Sofie',
  'Elke',
  'Milan',
  'Daan',
  'Femke',
  'Bram',
  'Ingrid',
  'Kasia',
  'Tomasz',
  'Marek',
  'Anja',
  'Lukas',
  'Hanna',
  'Emil',
  'Claire',
  'Luc',
  'Amélie',
  'Hugo',
  'Priya',
  'Owen',
  'Freya',
  'Magnus',
  'Sigrid',
  'Giulia',
  'Marco',
  'Inés',
  'Pau',
  'Zoë',
  'Jürgen',
  'Željka',
  'Đorđe',
  'Łucja',
]
export const lastNames = [
  'Van Acker',
  'Peeters',
  'De Smet',
  'Janssens',
  'Bakker',
  'Visser',
  'de Groot',
  'Mulder',
  'Hofmann',
  'Brandt',
  'Krüger',
  'Weiß',
  'Lefèvre',
  'Moreau',
  'Girard',
  'Nowak',
  'Wiśniewska',
  'Zieliński',
  'Ashworth',
  'Birkett',
  'Thwaite',
  'Lindqvist',
  'Haugen',
  'Rossi',
  'Ferrara',
  'Ortega',
  'Vidal',
  'Keller',
  'Novák',
  'Horvat',
]
export const companies = [
  'Vijverhuis',
  'Aqua Atelier',
  'Glasgaarde',
  'Tropenzimmer',
  'Studio Onderwater',
  'Zielony Dom',
  'Riverbend Offices',
  'Halle Nord',
]

export interface Place {
  readonly country: string
  readonly places: readonly (readonly [postcode: string, city: string])[]
  readonly streets: readonly string[]
}

/** A `#` in a street or postcode stands for a digit. */
export const places: readonly (readonly [Place, number])[] = [
  [
    {
      country: 'BE',
      places: [
        ['9000', 'Gent'],
        ['2000', 'Antwerpen'],
        ['1000', 'Brussel'],
        ['8000', 'Brugge'],
        ['3000', 'Leuven'],
        ['4000', 'Liège'],
        ['8500', 'Kortrijk'],
      ],
      streets: ['Coupure Links #8', 'Kouter 1#', 'Nieuwstraat ##', 'Stationsplein #', 'Kerkstraat 1##', 'Molenweg #2'],
    },
    30,
  ],
  [
    {
      country: 'NL',
      places: [
        ['1012 AB', 'Amsterdam'],
        ['3511 LX', 'Utrecht'],
        ['5611 AZ', 'Eindhoven'],
        ['9711 LM', 'Groningen'],
        ['6211 CS', 'Maastricht'],
      ],
      streets: ['Prinsengracht 2##', 'Dorpsstraat 4#', 'Lindelaan #', 'Havenkade 1#'],
    },
    20,
  ],
  [
    {
      country: 'DE',
      places: [
        ['50667', 'Köln'],
        ['10115', 'Berlin'],
        ['80331', 'München'],
        ['20095', 'Hamburg'],
        ['04109', 'Leipzig'],
        ['44135', 'Dortmund'],
        ['25946', 'Norddorf'],
      ],
      streets: ['Gartenstraße #4', 'Am Markt #', 'Lindenallee 10#', 'Schillerplatz #'],
    },
    18,
  ],
  [
    {
      country: 'FR',
      places: [
        ['59800', 'Lille'],
        ['75011', 'Paris'],
        ['69002', 'Lyon'],
        ['44000', 'Nantes'],
        ['20000', 'Ajaccio'],
        ['13001', 'Marseille'],
      ],
      streets: ['12# rue des Tilleuls', '#4 avenue du Lac', '# place Carnot'],
    },
    12,
  ],
  [
    {
      country: 'PL',
      places: [
        ['61-501', 'Poznań'],
        ['00-950', 'Warszawa'],
        ['31-010', 'Kraków'],
        ['80-830', 'Gdańsk'],
      ],
      streets: ['ul. Długa #4', 'ul. Polna #', 'al. Lipowa 1##'],
    },
    6,
  ],
  [
    {
      country: 'GB',
      places: [
        ['LS1 4DY', 'Leeds'],
        ['M1 2WD', 'Manchester'],
        ['EH1 1YZ', 'Edinburgh'],
        ['BS1 5TR', 'Bristol'],
        ['BT1 5GS', 'Belfast'],
      ],
      streets: ['#4 Mill Lane', '1# Canal Street', '# Orchard Close'],
    },
    6,
  ],
  [
    {
      country: 'AT',
      places: [
        ['1010', 'Wien'],
        ['8010', 'Graz'],
      ],
      streets: ['Ringweg #', 'Seegasse 1#'],
    },
    2,
  ],
  [
    {
      country: 'CH',
      places: [
        ['8001', 'Zürich'],
        ['3011', 'Bern'],
      ],
      streets: ['Seestrasse 1#', 'Marktgasse #'],
    },
    1.5,
  ],
  [
    {
      country: 'ES',
      places: [
        ['28013', 'Madrid'],
        ['08002', 'Barcelona'],
      ],
      streets: ['Calle Mayor #4', 'Carrer del Mar 1#'],
    },
    1.5,
  ],
  [
    {
      country: 'IT',
      places: [
        ['20121', 'Milano'],
        ['50122', 'Firenze'],
      ],
      streets: ['Via Verdi #', 'Corso Italia 1##'],
    },
    1,
  ],
  [{ country: 'DK', places: [['8000', 'Aarhus C']], streets: ['Havnegade 1#'] }, 0.8],
  [{ country: 'SE', places: [['411 03', 'Göteborg']], streets: ['Kungsgatan #4'] }, 0.8],
  [{ country: 'NO', places: [['5003', 'Bergen']], streets: ['Strandgaten 1#'] }, 0.6],
  [{ country: 'US', places: [['97205', 'Portland']], streets: ['1##0 Alder Street'] }, 0.4],
]
