import { Link, useLocation } from "react-router";
import { useView } from "../../time/view";

const VIEWS: [path: string, text: string][] = [
  ["/restore", "One database"],
  ["/rehearsals", "Loss rehearsal"],
  ["/drills", "Drills"],
  ["/sheets", "Recovery sheets"],
];

/** The views of restoring. */
export function Views() {
  const { search } = useView();
  const { pathname } = useLocation();
  return (
    <nav aria-label="Restoring" className="mb-1.5 flex flex-wrap gap-x-4">
      {VIEWS.map(([path, text]) => (
        <Link
          key={path}
          to={path + search}
          aria-current={pathname === path ? "page" : undefined}
          className={pathname === path ? "font-semibold underline underline-offset-4" : "text-button"}
        >
          {text}
        </Link>
      ))}
    </nav>
  );
}
