import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { SendingView } from "./api";
import { renderAt, signedIn } from "../../test-render";
import { about, blank, idOf, told } from "./say";
import { SendingPage } from "./SendingPage";

const night = {
  ...blank("Europe/Lisbon"),
  id: "night",
  name: "Night watch",
  mails: ["watch@saltmarsh.example"],
  quietFrom: "22:00",
  quietTo: "06:00",
};

const view: SendingView = {
  mail: true,
  from: "firth@saltmarsh.example",
  ranks: ["stranded", "behind"],
  lists: [night],
  sent: [
    {
      id: "1",
      list: "night",
      way: "mail",
      title: "berths: behind",
      made: "2026-11-20T09:00:00Z",
      state: "waiting",
      tries: 1,
      next: "2026-11-20T09:01:00Z",
      told: "the mail server did not take it",
    },
  ],
};

describe("Sending", () => {
  const answers = {
    "/api/sending": view,
    "/api/sending/lists/night/try": { sent: false, told: "nobody answered" },
    "/api/sending/lists/harbour-office": night,
    "/api/policies": [{ id: "kiosks", name: "Kiosks" }],
    "/api/choices": { owners: [], labels: [] },
  };

  it("says who is told of what, and what did not arrive", async () => {
    renderAt("/sending", <SendingPage />, answers);
    expect(await screen.findByText(/Of the whole fleet: findings ranked behind or worse/)).toHaveTextContent(
      "quiet from 22:00 to 06:00, Europe/Lisbon",
    );
    expect(screen.getByText(/the mail server did not take it/)).toBeInTheDocument();
    fireEvent.click(screen.getByText("Try it"));
    expect(await screen.findByText("Not sent: nobody answered.")).toBeInTheDocument();
  });

  it("takes a new list when it says who and what it is called", async () => {
    const { asked } = renderAt("/sending", <SendingPage />, answers);
    fireEvent.click(await screen.findByText("New list"));
    const form = screen.getByRole("form", { name: "A list" });
    expect(within(form).getByText(/Say what it is called and whom to tell/)).toBeInTheDocument();
    fireEvent.change(within(form).getByLabelText("Name"), { target: { value: "Night watch" } });
    fireEvent.change(within(form).getByLabelText(/Mail to/), {
      target: { value: "a@b.example, c@d.example" },
    });
    fireEvent.change(within(form).getByLabelText("Name"), { target: { value: "Night" } });
    expect(within(form).getByText(/this one is taken/)).toBeInTheDocument();
    fireEvent.change(within(form).getByLabelText("Name"), { target: { value: "Harbour office" } });
    fireEvent.change(within(form).getByLabelText("Of"), { target: { value: "policy" } });
    fireEvent.submit(form);
    await waitFor(() => expect(asked).toContain("/api/sending/lists/harbour-office"));
  });

  it("is only looked at by those who may not plan", async () => {
    renderAt("/sending", <SendingPage />, {
      ...answers,
      "/api/session": signedIn({ person: { id: "v", name: "V", can: ["viewer"] }, roles: ["viewer"] }),
    });
    await screen.findByText("Night watch");
    expect(screen.queryByText("New list")).toBeNull();
    expect(screen.queryByText("Try it")).toBeNull();
  });

  it("has words for every list", () => {
    expect(told({ ...night, rank: "", runsFailed: false })).toBe("nothing");
    expect(told({ ...night, rank: "", runsOk: true, watchAt: "07:00", report: "weekly" })).toBe(
      "runs that fail; runs that go well; the morning watch at 07:00; a report each week",
    );
    expect(about({ ...night, by: "label", of: "class=sailings" })).toBe("class: sailings");
    expect(about({ ...night, by: "policy", of: "sailings" }, [{ id: "sailings", name: "Sailings" }])).toBe(
      "policy Sailings",
    );
    expect(idOf(" Harbour Office, night! ")).toBe("harbour-office-night");
  });
});
