/*
 * Everything a rule can test (facts.ts) and set (decisionKinds.ts). The editor, the checks, the compiler, the findings
 * and the guide read it: a fact or a decision is added there and nowhere else.
 */
export * from './decisionKinds'
export * from './facts'
