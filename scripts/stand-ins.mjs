/* npm run stand-ins: the simulated outside alone, for a Gharry that is set up from nothing (npm start). */
import { environment, install, nodeIsNewEnough } from './environment.mjs'
import { standIn, standIns, together } from './processes.mjs'

if (!nodeIsNewEnough()) process.exit(1)
install()
const { keep } = together(environment())
for (const name of standIns) keep(name, standIn(name))
console.log('The simulated outside runs until Ctrl+C. In Gharry: Set-up, First steps, To try with.')
