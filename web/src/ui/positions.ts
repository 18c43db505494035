/** Log positions as engines write them, beside the whole numbers Firth computes with (docs/engines.md). */

/** Of MariaDB and MySQL the number of a log file stands above the place in it. */
const PLACES = 2 ** 32;

/** A position in the writing of its engine: `0/1A2B3C4D`, `.000003:4711`; the number alone for others. */
export function written(engine: string | null, position: number): string {
  if (engine === "postgresql") {
    const half = (n: number) => n.toString(16).toUpperCase();
    return `${half(Math.floor(position / PLACES))}/${half(position % PLACES)}`;
  }
  if (engine === "mariadb" || engine === "mysql") {
    return `.${String(Math.floor(position / PLACES)).padStart(6, "0")}:${position % PLACES}`;
  }
  return String(position);
}

/** The number a person means by what they typed, in whichever writing; null where it is no position. */
export function meant(typed: string): string | null {
  if (/^\d{1,18}$/.test(typed)) return typed;
  const halves = /^([0-9a-f]{1,8})\/([0-9a-f]{1,8})$/i.exec(typed);
  const [, high, low] = halves ?? [];
  if (high !== undefined && low !== undefined) {
    return String(BigInt(`0x${high}`) * BigInt(PLACES) + BigInt(`0x${low}`));
  }
  const [, file, place] = /\.(\d{6,9}):(\d{1,10})$/.exec(typed) ?? [];
  if (file !== undefined && place !== undefined && Number(place) < PLACES) {
    return String(BigInt(file) * BigInt(PLACES) + BigInt(place));
  }
  return null;
}
