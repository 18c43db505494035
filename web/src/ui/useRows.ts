import { useVirtualizer } from "@tanstack/react-virtual";
import type { RefObject } from "react";

/** The rows of a long list that are in sight, and a little beyond; the others are not drawn. */
export function useRows(count: number, size: (index: number) => number, box: RefObject<HTMLElement | null>) {
  // The warning is about a compiler that Firth is not built with.
  // eslint-disable-next-line react-hooks/incompatible-library
  return useVirtualizer({ count, getScrollElement: () => box.current, estimateSize: size, overscan: 12 });
}
