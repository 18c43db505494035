import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { renderAt, signedIn } from "../../test-render";
import { ImportDrop } from "../intake/ImportDrop";
import { PeoplePage } from "./PeoplePage";
import { agentCommand, drillFile, runnerFile } from "./Starting";
import { PersonMenu } from "./PersonMenu";
import { RecordPage } from "../record/RecordPage";
import { SignInPage } from "./SignInPage";

const deed = {
  number: 7,
  at: "2026-11-20T09:00:00Z",
  who: "ines",
  act: "purge-approved",
  about: "purge-1",
  detail: { bytes: 12 },
  hash: "ab".repeat(32),
};

describe("who is signed in", () => {
  it("may be another in the demo, and reaches People only as an administrator", async () => {
    const session = signedIn({
      demo: true,
      person: { id: "ines", name: "Ines", can: ["keeper", "viewer"] },
      others: [
        { id: "ines", name: "Ines", can: ["keeper", "viewer"] },
        { id: "tomas", name: "Tomas", can: ["approver", "viewer"] },
      ],
    });
    const { asked } = renderAt("/", <ImportDrop children={<PersonMenu />} />, { "/api/session": session });
    fireEvent.click(screen.getByRole("button", { name: /Ines/ }));
    const menu = await screen.findByRole("menu");
    expect(within(menu).queryByText("People and programs")).toBeNull();
    expect(within(menu).queryByText("Sign out")).toBeNull();
    fireEvent.click(within(menu).getByText("Tomas"));
    await waitFor(() => expect(asked).toContain("/api/session/as"));
  });

  it("says what is missing before one may sign in, and asks the first for the code", () => {
    renderAt("/", <SignInPage session={signedIn({ person: null, awaitsFirst: true })} />);
    const form = screen.getByRole("form", { name: "Sign in" });
    expect(within(form).getByRole("button", { name: "Begin" })).toBeDisabled();
    for (const [label, value] of [
      ["One-time code", "c"],
      [/Sign-in name/, "root"],
      ["Your name", "Root"],
      [/Password/, "long enough it is"],
    ] as const)
      fireEvent.change(within(form).getByLabelText(label), { target: { value } });
    expect(within(form).getByRole("button", { name: "Begin" })).toBeEnabled();
  });
});

describe("the record", () => {
  it("shows who did what, and whether all of it is whole", async () => {
    const { asked } = renderAt("/record?words=purge", <RecordPage />, {
      "/api/record": { deeds: [deed], more: true },
      "/api/record/whole": { length: 6, head: "cd".repeat(32), broken: 7, what: "it does not follow" },
    });
    expect(await screen.findByText(/^approved list/)).toBeInTheDocument();
    expect(asked[0]).toContain("words=purge");
    fireEvent.click(screen.getByRole("button", { name: "Older" }));
    await waitFor(() => expect(asked.some((a) => a.includes("before=7"))).toBe(true));
    fireEvent.click(screen.getByRole("button", { name: "Is it whole?" }));
    expect(await screen.findByRole("status")).toHaveTextContent("Entry 7 does not fit: it does not follow");
  });
});

describe("people and programs", () => {
  const people = {
    people: [{ id: "tomas", name: "Tomas", roles: ["approver"], here: true, away: false }],
    tokens: [],
    roles: ["viewer", "approver"],
    programRoles: ["runner", "agent"],
  };

  it("are for administrators", () => {
    renderAt("/people", <PeoplePage />, {
      "/api/session": signedIn({ person: { id: "oona", name: "Oona", can: ["viewer"] } }),
    });
    expect(screen.getByText(/Administrators decide/)).toBeInTheDocument();
  });

  it("get a token that is shown once", async () => {
    renderAt("/people", <PeoplePage />, {
      "/api/people": people,
      "/api/people/tokens": { id: "t", secret: "only-now" },
    });
    expect(await screen.findByText("Tomas")).toBeInTheDocument();
    fireEvent.click(screen.getByRole("button", { name: "Make a token…" }));
    const form = screen.getByRole("form", { name: "Token" });
    fireEvent.change(within(form).getByLabelText("Name of the program"), { target: { value: "agent" } });
    expect(within(form).getByRole("button", { name: "Make it" })).toBeDisabled();
    fireEvent.click(within(form).getByLabelText("agent"));
    fireEvent.click(within(form).getByRole("button", { name: "Make it" }));
    expect(await screen.findByText("only-now")).toBeInTheDocument();
  });

  it("are shown how a runner is started once it has a token", async () => {
    renderAt("/people", <PeoplePage />, {
      "/api/people": people,
      "/api/people/tokens": { id: "t", secret: "only-now" },
      "/api/choices": { stores: [{ id: "quay-near", name: "Quay near" }] },
      "/api/fleet": {
        rows: [
          { id: "harbour", host: "pier", engine: "PostgreSQL 15" },
          { id: "other", host: "pier-2", engine: "MariaDB 11" },
        ],
      },
    });
    fireEvent.click(await screen.findByRole("button", { name: "Make a token…" }));
    const form = screen.getByRole("form", { name: "Token" });
    fireEvent.change(within(form).getByLabelText("Name of the program"), { target: { value: "runner" } });
    fireEvent.click(within(form).getByLabelText("runner"));
    fireEvent.change(within(form).getByLabelText(/Bound to which store/), { target: { value: "pier" } });
    fireEvent.click(within(form).getByRole("button", { name: "Make it" }));
    const how = await screen.findByRole("region", { name: "How it is started" });
    expect(how).toHaveTextContent('host = "pier"');
    expect(how).toHaveTextContent('quay-near = "/srv/backups/quay-near"');
    expect(how).toHaveTextContent('[databases.harbour] engine = "postgresql"');
    expect(how).not.toHaveTextContent("other");
  });
});

describe("what programs are started with", () => {
  it("is a place to restore in for a host that does drills", () => {
    expect(drillFile("dock", "http://f:1", [{ id: "near" }])).toBe(
      [
        'host = "dock"',
        'firth = "http://f:1"',
        'token-file = "/etc/firth/drill.token"',
        'state = "/var/lib/firth/drill"',
        "",
        "[stores]",
        'near = "/srv/backups/near"',
        "",
        "[drills]",
        'directory = "/srv/drills"',
        "",
      ].join("\n"),
    );
  });

  it("is quoted where names ask for it", () => {
    expect(agentCommand("it's far", "http://f:1")).toBe(
      "./firth agent --store 'it'\\''s far' --root '/srv/backups/it'\\''s far' --to http://f:1 --token-file /etc/firth/agent.token",
    );
    expect(
      runnerFile(
        "pier",
        "http://f:1",
        [{ id: "a.b" }],
        [
          { id: "sea x", engine: "MariaDB 11" },
          { id: "sheds", engine: "SQLite" },
          { id: "odd", engine: "Another 3" },
        ],
      ),
    ).toBe(
      [
        'host = "pier"',
        'firth = "http://f:1"',
        'token-file = "/etc/firth/runner.token"',
        'state = "/var/lib/firth/runner"',
        "",
        "[stores]",
        '"a.b" = "/srv/backups/a.b"',
        "",
        '[databases."sea x"]',
        'engine = "mariadb"',
        'option-file = "/etc/firth/sea x.cnf"',
        "",
        "[databases.sheds]",
        'engine = "sqlite"',
        'file = "/srv/sheds.db"',
        "",
      ].join("\n"),
    );
  });
});
