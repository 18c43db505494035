import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { render } from "@testing-library/react";
import type { ReactNode } from "react";
import { MemoryRouter, useLocation } from "react-router";
import { vi } from "vitest";
import type { Session } from "./api/session";

/** Somebody with every role, signed in. */
export function signedIn(change: Partial<Session> = {}): Session {
  const roles = ["administrator", "approver", "keeper", "operator", "planner", "viewer"];
  return {
    person: { id: "maren", name: "Maren", can: roles },
    roles,
    page: "p",
    demo: false,
    live: false,
    others: [],
    awaitsFirst: false,
    empty: false,
    provider: false,
    version: "1.0.0",
    ...change,
  };
}

/** Renders under an address, with the server's answers, or promises of them, given by the beginning of what is asked for. */
export function renderAt(address: string, element: ReactNode, answers: Record<string, unknown> = {}) {
  const asked: string[] = [];
  vi.stubGlobal("fetch", async (request: Request) => {
    const url = new URL(request.url);
    asked.push(url.pathname + url.search);
    const path = Object.keys(answers)
      .filter((p) => (url.pathname + url.search).startsWith(p))
      .sort((a, b) => b.length - a.length)[0];
    const body = path === undefined ? { detail: "There is nothing at this address." } : await answers[path];
    return new Response(JSON.stringify(body), {
      status: path === undefined ? 404 : 200,
      headers: { "content-type": "application/json" },
    });
  });
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  queries.setQueryData(["session"], answers["/api/session"] ?? signedIn());
  const view = render(
    <QueryClientProvider client={queries}>
      <MemoryRouter initialEntries={[address]}>
        {element}
        <Address />
      </MemoryRouter>
    </QueryClientProvider>,
  );
  return { ...view, asked };
}

function Address() {
  const { pathname, search } = useLocation();
  return <span data-testid="address">{pathname + search}</span>;
}
