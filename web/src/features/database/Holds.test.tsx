import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";
import { database, holed } from "../../test-fleet";
import { renderAt } from "../../test-render";
import { HoldForm } from "./HoldForm";
import { instantOf } from "../../time/typed";
import { Holds } from "./Holds";
import { Notes } from "./Notes";

const data = database(holed);
const say = (label: string, value: string) =>
  fireEvent.change(screen.getByLabelText(label), { target: { value } });

/** What was sent, beside what is asked for. */
function sending() {
  const sent: unknown[] = [];
  const fetch = globalThis.fetch as unknown as (request: Request) => Promise<Response>;
  vi.stubGlobal("fetch", async (request: Request) => {
    if (request.method !== "GET")
      sent.push([request.method, new URL(request.url).pathname, await request.clone().text()]);
    return fetch(request);
  });
  return sent;
}

describe("holds", () => {
  it("tell what is kept, by whom, how long and how much room that takes, and are lifted", async () => {
    renderAt("/", <Holds data={data} onHold={() => {}} />, { "/api/databases/berths/holds": {} });
    const sent = sending();
    expect(screen.getByTestId("holds")).toHaveTextContent(
      "f: auditInes, without end, 400 GB that nothing else needs",
    );
    fireEvent.click(screen.getByRole("button", { name: "Lift" }));
    await waitFor(() => expect(sent).toEqual([["DELETE", "/api/databases/berths/holds/hold%3A1", ""]]));
  });

  it("are placed on a moment once it is said which, why and by whom", async () => {
    const close = vi.fn();
    renderAt("/", <HoldForm data={data} backup={null} onClose={close} />, {
      "/api/databases/berths/holds": {},
    });
    const sent = sending();
    expect(await screen.findByRole("button", { name: "Hold it" })).toBeDisabled();
    fireEvent.change(screen.getByLabelText(/Which moment/), { target: { value: "9 Nov 2026 08:30:15" } });
    say("Why is it kept?", "year end");
    say("How long?", "0");
    fireEvent.click(screen.getByRole("button", { name: "Hold it" }));
    await waitFor(() => expect(close).toHaveBeenCalled());
    const moment = instantOf("9 Nov 2026 08:30:15", data.row.zone);
    expect(sent).toEqual([
      [
        "POST",
        "/api/databases/berths/holds",
        JSON.stringify({ backup: null, moment, reason: "year end", until: null }),
      ],
    ]);
  });
});

describe("notes", () => {
  it("are read, written and taken back", async () => {
    renderAt("/", <Notes data={data} />, { "/api/databases/berths/notes": {} });
    const sent = sending();
    expect(screen.getByTestId("notes")).toHaveTextContent("Moved to quay 2.");
    fireEvent.click(screen.getByRole("button", { name: "Write a note…" }));
    say("What should others know?", "Quay 2 floods in spring.");
    fireEvent.click(screen.getByRole("button", { name: "Keep it" }));
    await waitFor(() => expect(screen.queryByLabelText("What should others know?")).toBeNull());
    fireEvent.click(screen.getByRole("button", { name: "Take back" }));
    await waitFor(() => expect(sent).toHaveLength(2));
    expect(sent[0]).toEqual([
      "POST",
      "/api/databases/berths/notes",
      JSON.stringify({ text: "Quay 2 floods in spring." }),
    ]);
    expect(sent[1]).toEqual(["DELETE", "/api/databases/berths/notes/note%3A1", ""]);
  });

  it("cannot be written while one looks back", () => {
    renderAt("/?asOf=2026-11-01T00:00:00Z", <Notes data={data} />);
    expect(screen.queryByRole("button")).toBeNull();
  });
});
