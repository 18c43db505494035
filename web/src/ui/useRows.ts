import { useVirtualizer } from "@tanstack/react-virtual";
import type { RefObject } from "react";

/** The rows of a long list that are in sight, and a little beyond; the others are not drawn. */
export function useRows(count: number, size: (index: number) => number, box: RefObject<HTMLElement | null>) {
  // The warning is about a compiler that Firth is not built with.
  // eslint-disable-next-line react-hooks/incompatible-library
  return useVirtualizer({ count, getScrollElement: () => box.current, estimateSize: size, overscan: 12 });
}

/** Puts the keyboard's focus on a row by its index: at once where it is drawn, else when it has been scrolled to. */
export function focusRow(box: RefObject<HTMLElement | null>, index: number) {
  const row = () => box.current?.querySelector<HTMLElement>(`[data-at="${index}"]`);
  const drawn = row();
  if (drawn) drawn.focus();
  else requestAnimationFrame(() => row()?.focus());
}
