/** Where parcels are seen in a country. */
export const depots: Readonly<Record<string, string>> = {
  ...{ BE: 'Brussels', NL: 'Utrecht', DE: 'Hannover', FR: 'Lille', PL: 'Poznan', GB: 'Birmingham', LU: 'Luxembourg' },
  ...{ AT: 'Linz', CH: 'Bern', NO: 'Oslo', SE: 'Malmö', DK: 'Odense', IT: 'Milano', ES: 'Zaragoza', US: 'Chicago' },
}
