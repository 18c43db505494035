import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { useState, type ReactNode } from "react";
import { useNavigate } from "react-router";
import { be, leave, useComing, useSession } from "../../api/session";
import { useImport } from "../intake/ImportDrop";
import { PasswordForm } from "./PasswordForm";

/** Who is signed in, and what is not of any one view. */
export function PersonMenu() {
  const session = useSession().data;
  const coming = useComing();
  const navigate = useNavigate();
  const choose = useImport();
  const [changing, setChanging] = useState(false);
  const me = session?.person;
  if (!session || !me) return null;
  const can = (role: string) => me.can.includes(role);
  return (
    <>
      <Menu>
        <MenuButton className="rounded border border-line px-2.5 py-1 whitespace-nowrap">
          {me.name}
          {session.demo && <span className="text-note text-muted"> · {session.live ? "live" : "demo"}</span>}
        </MenuButton>
        <MenuItems
          anchor="bottom end"
          className="z-30 mt-1 w-72 rounded-lg border border-ink bg-panel py-1 shadow-xl focus:outline-none"
        >
          <p className="px-3 py-1 text-note text-muted">{me.can.join(", ")}</p>
          <Item onChoose={choose}>Import…</Item>
          <MenuItem>
            <a className="block px-3 py-1 data-focus:bg-chosen" href="/api/export" download="fleet.ndjson">
              Export everything
            </a>
          </MenuItem>
          <Item onChoose={() => void navigate("/record")}>Record</Item>
          {session.live && <Item onChoose={() => void navigate("/live")}>Faults to try</Item>}
          {can("administrator") && <Item onChoose={() => void navigate("/people")}>People and programs</Item>}
          {!session.demo && <Item onChoose={() => setChanging(true)}>Change password…</Item>}
          {session.demo && (
            <>
              <p className="mt-1 border-t border-line px-3 pt-2 pb-1 text-note text-muted">
                This is the demo: its people are made up and signed in without a password, from this machine
                alone. Switch to:
              </p>
              {session.others
                .filter((o) => o.id !== me.id)
                .map((o) => (
                  <Item key={o.id} onChoose={() => void coming(be(o.id))}>
                    {o.name}
                    <span className="block text-note text-muted">
                      {o.can.filter((r) => r !== "viewer" || o.can.length === 1).join(", ")}
                    </span>
                  </Item>
                ))}
            </>
          )}
          {!session.demo && <Item onChoose={() => void coming(leave())}>Sign out</Item>}
          <p className="mt-1 border-t border-line px-3 pt-1 text-note text-muted">Firth {session.version}</p>
        </MenuItems>
      </Menu>
      {changing && <PasswordForm onClose={() => setChanging(false)} />}
    </>
  );
}

function Item({ onChoose, children }: { onChoose: () => void; children: ReactNode }) {
  return (
    <MenuItem>
      <button className="block w-full px-3 py-1 text-left data-focus:bg-chosen" onClick={onChoose}>
        {children}
      </button>
    </MenuItem>
  );
}
