import { demoRulebook } from '/work/main/demo/rulebook'
import { demoWorld } from '/work/main/demo/world'
import { findLogic, type Rulebook, type Rule } from '/work/main/src/core/rulebook'
import { seeded } from '/work/main/demo/random'
import { money } from '/work/main/src/core/units'
const now = Date.parse('2026-11-25T09:00:00Z')
const gen = (n: number): Rulebook => {
  const r = seeded(3); const cs = ['BE','NL','DE','FR','PL','GB','AT','ES','IT','DK','SE','NO','CH','US','LU','CZ','HU','PT','IE','FI']
  const rules: Rule[] = [...demoRulebook.rules]
  while (rules.length < n) { const lo = r.below(20000); const v = r.below(30000); const i = rules.length
    rules.push({ id:`g${i}`, stage:'service', name:`G ${i}`, on:true, when:{ all:[ {fact:'country',op:'is one of',value:[r.pick(cs),r.pick(cs)]}, {fact:'items weight',op:'between',value:[lo,lo+r.below(5000)]}, ...(r.chance(0.5)?[{fact:'wording',op:'is',value:r.pick(['Free','Standard','Exp. 2-day','810'])} as const]:[]), {fact:'order value',op:'>',value:money(v,'EUR')} ] }, then:[{set:'picks',to:[{by:'service',service:r.pick(['heron-road','corvid-parcel','corvid-packet'])},{by:'cheapest'}]}] }) }
  // generated before the catch-all
  const rest = rules.filter(x=>x.id!=='v-rest'); rest.push(rules.find(x=>x.id==='v-rest')!)
  return { ...demoRulebook, rules: rest }
}
for (const n of [21,100,300,1000]) { const b=gen(n); for (let i=0;i<2;i++){const t=performance.now(); const f=findLogic(b, demoWorld, now); const k: Record<string,number>={}; for(const x of f) k[x.kind]=(k[x.kind]??0)+1; console.log(n, Math.round(performance.now()-t),'ms', JSON.stringify(k))} }
