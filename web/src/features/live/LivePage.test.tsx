import { screen, within } from "@testing-library/react";
import { expect, it } from "vitest";
import { renderAt, signedIn } from "../../test-render";
import { LivePage } from "./LivePage";

const tap = {
  id: "tap",
  title: "Close the tap",
  shows: "No water.",
  once: false,
  broken: true,
  asked: false,
  at: "2026-11-30T10:00:00Z",
  said: "",
};
const cup = {
  ...tap,
  id: "cup",
  title: "Break the cup",
  broken: false,
  at: null,
  once: true,
  said: "it is away",
};

const live = {
  faults: [tap, cup],
  truth: [
    { database: "harbour", rows: 1207, committed: "2026-11-30T10:00:40Z", said: "" },
    { database: "berths", rows: 3, committed: "2026-11-30T10:00:40Z", said: "it does not answer" },
  ],
};

const row = (id: string, recoveryPoint: string | null) => ({
  id,
  hazards: [{ hazard: "mishap", recoveryPoint, ageSeconds: 1 }],
});

const at = (answers: Record<string, unknown>) => renderAt("/live", <LivePage />, answers);

it("shows what the databases hold beside what can be brought back", async () => {
  at({ "/api/live": live, "/api/cover/rows": [row("harbour", "2026-11-30T10:00:28Z"), row("berths", null)] });
  const harbour = (await screen.findByText("harbour")).closest("tr");
  await within(harbour as HTMLElement).findByText("12 s");
  expect(harbour).toHaveTextContent("1 207");
  const berths = screen.getByText("berths").closest("tr");
  expect(berths).toHaveTextContent("The last try failed.");
  expect(berths).toHaveTextContent("nothing yet");
  expect(berths).toHaveTextContent("all of it");
});

it("offers to break what is whole and to mend what is broken", async () => {
  at({ "/api/live": live });
  const broken = (await screen.findByText("Close the tap")).closest("li");
  expect(broken).toHaveTextContent("Put it right");
  const whole = screen.getByText("Break the cup").closest("li");
  expect(whole).toHaveTextContent("Break it");
  expect(whole).toHaveTextContent("It could not be done: it is away");
});

it("offers nothing to whoever may only look", async () => {
  const viewer = signedIn({ person: { id: "oona", name: "Oona", can: ["viewer"] } });
  at({ "/api/live": live, "/api/session": viewer });
  await screen.findByText("Close the tap");
  expect(screen.queryAllByRole("button")).toEqual([]);
});

it("says that it is being set up", async () => {
  at({ "/api/live": { faults: [], truth: [] } });
  expect(await screen.findByText(/being set up/)).toBeVisible();
});
