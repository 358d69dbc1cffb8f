/** How figures are shown. Rounding is for reading only; what is typed goes to the server as it is. */

const trimmed = (text: string) => (text.includes(".") ? text.replace(/\.?0+$/, "") : text);

export const plain = (value: number, places = 2) => {
  const text = trimmed(value.toFixed(places));
  return text === "-0" ? "0" : text;
};

export const mm = (value: number) => plain(value, Math.abs(value) < 10 ? 3 : 2);

/** What rounds to nothing in cm² is nothing: a difference of sums. */
export const area = (m2: number) =>
  m2 >= 0.1 || m2 < 5e-6 ? `${Math.max(m2, 0).toFixed(2)} m²` : `${plain(m2 * 1e4, 1)} cm²`;

/** Of one face, however small: a scan has faces of a tenth of a mm². */
export const faceArea = (m2: number) => (m2 > 0 && m2 < 5e-6 ? `${Number((m2 * 1e6).toPrecision(2))} mm²` : area(m2));

export const percent = (share: number) => {
  // Nothing short of everything reads as 100 %.
  const value = share < 1 - 1e-9 ? Math.min(share * 100, 99.9) : 100;
  return `${trimmed(value.toFixed(1))} %`;
};

/** A ratio of lengths, which may well be more than one; only the same length reads as 100 %. */
export const ratio = (value: number) => {
  const near = Math.abs(value - 1) > 1e-9 && Math.abs(value - 1) < 0.0005;
  const shown = near ? (value < 1 ? 99.9 : 100.1) : value * 100;
  return `${trimmed(shown.toFixed(1))} %`;
};

/** A length given in m, and below a tenth of one in mm. */
export const metres = (value: number, digits: number) =>
  value >= 0.1 || value === 0 ? `${value.toFixed(digits)} m` : `${Math.round(value * 1000)} mm`;

export const count = (value: number) => value.toLocaleString("en-GB");

/** How many there are, with the word for them. */
export const counted = (value: number, one: string, many = `${one}s`) => `${count(value)} ${value === 1 ? one : many}`;
