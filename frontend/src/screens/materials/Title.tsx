/** The heading of one group of a material's facts. */
export function Title({ children }: { children: string }) {
  return <h3 className="mb-1.5 border-b border-rule font-figure font-semibold">{children}</h3>;
}
