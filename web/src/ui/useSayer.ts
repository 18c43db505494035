import { useState } from "react";

const KEPT = "firth.name";

/** Who speaks at this browser: typed once, remembered here. */
export function useSayer(): [string, (name: string) => void] {
  const [name, setName] = useState(() => window.localStorage.getItem(KEPT) ?? "");
  return [
    name,
    (next) => {
      window.localStorage.setItem(KEPT, next.trim());
      setName(next);
    },
  ];
}
