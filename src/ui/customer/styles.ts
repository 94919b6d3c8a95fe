import type { ReadableColours } from '@/core/telling'

/** The style of the customer's pages: a few rules in the page itself, so that it comes in one answer. */
export const styleOf = ({ accent, onAccent, paper, ink }: ReadableColours): string => `
:root{--a:${accent};--oa:${onAccent};--p:${paper};--i:${ink};--h:color-mix(in srgb,${ink} 18%,${paper});--s:color-mix(in srgb,${ink} 74%,${paper});--t:color-mix(in srgb,${accent} 9%,${paper})}
*{box-sizing:border-box}body{margin:0;background:var(--p);color:var(--i);font:16px/1.5 system-ui,sans-serif}
main{max-width:34rem;margin:0 auto;padding:1.5rem 1.25rem 3rem}
h1{font-size:1.7rem;line-height:1.2;margin:.4rem 0}h2{font-size:1.1rem;margin:2rem 0 .4rem}p{margin:.35rem 0}
.soft,dt,small{color:var(--s)}small{font-size:.875rem}a{color:var(--a)}img{max-width:100%;height:auto;max-height:5rem}
.lead{font-size:1.12rem}ul,ol{list-style:none;margin:0;padding:0}.mono{font-family:ui-monospace,monospace;word-break:break-all}
.way{display:flex;margin:1.4rem 0 0}.way li{flex:1;position:relative;text-align:center;font-size:.8rem;line-height:1.25;color:var(--s);padding:0 .15rem}
.way li:before{content:"";display:block;width:.9rem;height:.9rem;margin:0 auto .4rem;border:2px solid var(--h);background:var(--p);transform:rotate(45deg);position:relative;z-index:1}
.way li+li:after{content:"";position:absolute;left:-50%;right:50%;top:.4rem;height:2px;background:var(--h)}
.way li.on:before,.way li.on:after{border-color:var(--a);background:var(--a)}.way li[aria-current]{color:var(--i);font-weight:600}
dl{display:grid;grid-template-columns:auto 1fr;gap:.2rem 1rem;margin:1.4rem 0 0;border-top:1px solid var(--h);padding-top:1rem}dd{margin:0}
.list>li{border-bottom:1px solid var(--h);padding:.5rem 0}.bad{background:var(--t);border-left:3px solid var(--a);padding:.6rem .8rem}
section.parcel{border-top:2px solid var(--h);margin-top:2rem;padding-top:.4rem}section.parcel:first-of-type{border-top:0;margin-top:0;padding-top:0}
svg.map{display:block;width:100%;height:auto;border:1px solid var(--h);background:var(--t)}
details{border:1px solid var(--h);padding:.2rem .9rem;margin-top:.8rem}summary{padding:.6rem 0;cursor:pointer;font-weight:600}
form{display:grid;gap:.8rem;padding:.2rem 0 1rem}label{display:grid;gap:.2rem}.radio{display:flex;gap:.6rem;align-items:baseline;min-height:1.75rem}
.pieces{display:grid;grid-template-columns:5rem 1fr;gap:.7rem;align-items:center;margin-bottom:.4rem}svg.code{width:11rem;height:11rem;display:block;margin:.4rem 0}
fieldset{border:0;padding:0;margin:0}legend{padding:0;margin-bottom:.3rem}
input:not([type=radio]),textarea{font:inherit;color:inherit;background:var(--p);border:1px solid var(--s);border-radius:3px;padding:.55rem .7rem;width:100%}
button{font:inherit;font-weight:600;color:var(--oa);background:var(--a);border:0;border-radius:3px;padding:.7rem 1rem;cursor:pointer}
nav{display:flex;flex-wrap:wrap;gap:.2rem .9rem;margin-top:2rem;font-size:.9rem}nav a,nav b{padding:.25rem 0}
:focus-visible{outline:2px solid var(--a);outline-offset:2px}
@media(min-width:60rem){main{padding-top:3rem}}
`
