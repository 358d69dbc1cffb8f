/** Round lengths for squares and spacings. */

/** Each step is twice or two and a half times the last: 1, 2, 5, 10, … */
export function otherStep(mm: number, up: boolean): number {
  const power = 10 ** Math.floor(Math.log10(mm) + 1e-9);
  const lead = Math.round(mm / power);
  const next = up ? { 1: 2, 2: 5, 5: 10 }[lead] : { 1: 0.5, 2: 1, 5: 2 }[lead];
  return Math.min(Math.max((next ?? lead) * power, 0.1), 10_000);
}
