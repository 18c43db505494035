import { useEffect, useState, type RefObject } from "react";

/** How far below the top of the page an element begins, in pixels, as the page above it grows and shrinks. */
export function useTop(of: RefObject<HTMLElement | null>): number {
  const [top, setTop] = useState(0);
  useEffect(() => {
    const look = new ResizeObserver(() => {
      if (of.current) setTop(of.current.getBoundingClientRect().top + window.scrollY);
    });
    look.observe(document.body);
    return () => look.disconnect();
  }, [of]);
  return top;
}
