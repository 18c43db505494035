import { duration, size } from "../../time/words";

/** A duration that may be shorter than a second. */
export const took = (seconds: number) =>
  seconds < 1 ? `${Math.round(seconds * 1000)} ms` : duration(seconds);

export const rate = (bytesPerSecond: number) => `${size(bytesPerSecond)}/s`;
