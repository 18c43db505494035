import { useVirtualizer, useWindowVirtualizer } from "@tanstack/react-virtual";
import type { RefObject } from "react";
import { useTop } from "./useTop";

/** The rows of a long list that are in sight, and a little beyond; the others are not drawn. */
export function useRows(count: number, size: (index: number) => number, box: RefObject<HTMLElement | null>) {
  // The warning is about a compiler that Firth is not built with.
  // eslint-disable-next-line react-hooks/incompatible-library
  return useVirtualizer({ count, getScrollElement: () => box.current, estimateSize: size, overscan: 12 });
}

/** The same of a list that scrolls with its page. */
export function useWindowRows(count: number, size: number, list: RefObject<HTMLElement | null>) {
  const above = useTop(list);
  return useWindowVirtualizer({ count, estimateSize: () => size, overscan: 12, scrollMargin: above });
}

/** So many frames a row that was scrolled to may take until it is drawn. */
const FRAMES = 10;

/** Puts the keyboard's focus on a row by its index: at once where it is drawn, else when it has been scrolled to. */
export function focusRow(box: RefObject<HTMLElement | null>, index: number, frames = FRAMES) {
  const row = box.current?.querySelector<HTMLElement>(`[data-at="${index}"]`);
  if (row) row.focus();
  else if (frames > 0) requestAnimationFrame(() => focusRow(box, index, frames - 1));
}
