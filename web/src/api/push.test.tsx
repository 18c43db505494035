import { QueryClient, QueryClientProvider, useQuery } from "@tanstack/react-query";
import { act, render, screen } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { useCover } from "./cover";
import { told, usePush } from "./push";

class Source {
  static last: Source | null = null;
  onmessage: (e: { data: string }) => void = () => {};
  onopen: () => void = () => {};
  onerror: () => void = () => {};
  constructor() {
    Source.last = this;
  }
  close() {}
}

function Grades() {
  usePush();
  const cover = useCover({});
  return <p>{cover.data?.rows.map((r) => `${r.id} ${r.grade}`).join(", ")}</p>;
}

function Morning() {
  usePush();
  const { data } = useQuery({
    queryKey: ["watch"],
    queryFn: () => fetch(new Request("http://quay/api/watch")).then((r) => r.json() as Promise<unknown>),
  });
  return <p>{data ? "known" : ""}</p>;
}

describe("push", () => {
  beforeEach(() => {
    Source.last = null;
    vi.useFakeTimers({ shouldAdvanceTime: true });
    vi.stubGlobal("EventSource", Source);
  });
  afterEach(() => {
    vi.useRealTimers();
    vi.unstubAllGlobals();
  });

  it("reads which databases a message is about", () => {
    expect(told("beat")).toBeNull();
    expect(told("facts")).toEqual({ what: "facts", databases: [] });
    expect(told('facts ["a b","c"]')).toEqual({ what: "facts", databases: ["a b", "c"] });
    expect(told('found ["a"]')).toEqual({ what: "found", databases: ["a"] });
  });

  it("listens as soon as somebody is there, and else after a while", () => {
    const opened = () =>
      render(
        <QueryClientProvider client={new QueryClient()}>
          <Grades />
        </QueryClientProvider>,
      );
    vi.stubGlobal("fetch", () => new Promise<Response>(() => {}));
    const { unmount } = opened();
    expect(Source.last).toBeNull();
    act(() => void window.dispatchEvent(new Event("keydown")));
    expect(Source.last).not.toBeNull();
    unmount();
    Source.last = null;
    void opened();
    void act(() => vi.advanceTimersByTime(7_000));
    expect(Source.last).not.toBeNull();
  });

  it("draws the rows of a few databases before the fleet is answered again", async () => {
    let fleets = 0;
    vi.stubGlobal("fetch", (request: Request) => {
      const url = new URL(request.url);
      if (url.pathname.endsWith("/rows")) {
        expect(url.searchParams.getAll("database")).toEqual(["b"]);
        return Promise.resolve(Response.json([{ id: "b", grade: "covered" }]));
      }
      return fleets++ === 0
        ? Promise.resolve(
            Response.json({
              rows: [
                { id: "a", grade: "short" },
                { id: "b", grade: "behind" },
              ],
            }),
          )
        : new Promise<Response>(() => {});
    });
    render(
      <QueryClientProvider client={new QueryClient()}>
        <Grades />
      </QueryClientProvider>,
    );
    expect(await screen.findByText("a short, b behind")).toBeInTheDocument();
    expect(Source.last).toBeNull();
    act(() => void window.dispatchEvent(new Event("scroll")));
    act(() => Source.last?.onmessage({ data: 'facts ["b"]' }));
    expect(await screen.findByText("a short, b covered")).toBeInTheDocument();
    await vi.waitFor(() => expect(fleets).toBe(2));
  });

  it("asks for Watch of a large fleet when what it says has changed, not for every log", async () => {
    const asked: string[] = [];
    vi.stubGlobal("fetch", (request: Request) => {
      asked.push(new URL(request.url).pathname);
      return Promise.resolve(Response.json({ databases: 1_000 }));
    });
    const client = new QueryClient();
    render(
      <QueryClientProvider client={client}>
        <Morning />
      </QueryClientProvider>,
    );
    await vi.waitFor(() => expect(asked).toEqual(["/api/watch"]));
    act(() => void window.dispatchEvent(new Event("scroll")));
    act(() => Source.last?.onmessage({ data: 'facts ["b"]' }));
    await vi.advanceTimersByTimeAsync(3_000);
    expect(asked).toEqual(["/api/watch"]);
    act(() => Source.last?.onmessage({ data: 'found ["b"]' }));
    await vi.waitFor(() => expect(asked).toEqual(["/api/watch", "/api/watch"]));
  });
});
