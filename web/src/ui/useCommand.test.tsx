import { QueryClient, QueryClientProvider, useQuery } from "@tanstack/react-query";
import { act, renderHook, waitFor } from "@testing-library/react";
import type { ReactNode } from "react";
import { describe, expect, it, vi } from "vitest";
import { useCommand } from "./useCommand";

function within(queries = new QueryClient()) {
  return ({ children }: { children: ReactNode }) => (
    <QueryClientProvider client={queries}>{children}</QueryClientProvider>
  );
}

describe("a command", () => {
  it("is done once however often it is pressed while it is under way", async () => {
    let done: (text: string) => void = () => {};
    const change = vi.fn(() => new Promise<string>((resolve) => (done = resolve)));
    const followed = vi.fn();
    const { result } = renderHook(() => useCommand(), { wrapper: within() });
    let first: Promise<boolean> = Promise.resolve(false);
    act(() => {
      first = result.current.run(change, followed);
      void result.current.run(change, followed);
    });
    expect(result.current.pending).toBe(true);
    await act(async () => {
      done("kept");
      expect(await first).toBe(true);
    });
    expect(change).toHaveBeenCalledTimes(1);
    expect(followed).toHaveBeenCalledExactlyOnceWith("kept");
    expect(result.current.pending).toBe(false);
  });

  it("keeps what went wrong until it goes well", async () => {
    const { result } = renderHook(() => useCommand(), { wrapper: within() });
    const followed = vi.fn();
    await act(async () => {
      expect(await result.current.run(() => Promise.reject(new Error("refused")), followed)).toBe(false);
    });
    expect(result.current.problem?.message).toBe("refused");
    expect(followed).not.toHaveBeenCalled();
    await act(async () => {
      await result.current.run(() => Promise.resolve());
    });
    expect(result.current.problem).toBeNull();
  });

  it("has what it changes read anew, done or refused", async () => {
    const read = vi.fn(() => Promise.resolve(1));
    const { result } = renderHook(
      () => {
        useQuery({ queryKey: ["lists"], queryFn: read, staleTime: Infinity });
        return useCommand(["lists"]);
      },
      { wrapper: within() },
    );
    await waitFor(() => expect(read).toHaveBeenCalledTimes(1));
    await act(async () => {
      await result.current.run(() => Promise.resolve());
    });
    await waitFor(() => expect(read).toHaveBeenCalledTimes(2));
    await act(async () => {
      await result.current.run(() => Promise.reject(new Error("changed meanwhile")));
    });
    await waitFor(() => expect(read).toHaveBeenCalledTimes(3));
  });

  it("puts back what was done last, once", async () => {
    const { result } = renderHook(() => useCommand(), { wrapper: within() });
    const back = vi.fn(() => Promise.resolve());
    expect(result.current.undo).toBeNull();
    await act(async () => {
      await result.current.run(() => Promise.resolve("kept"), undefined, back);
    });
    await act(async () => {
      expect(await result.current.undo?.()).toBe(true);
    });
    expect(back).toHaveBeenCalledExactlyOnceWith("kept");
    expect(result.current.undo).toBeNull();
  });

  it("keeps the way back where it failed, and loses it with the next thing that is done", async () => {
    const { result } = renderHook(() => useCommand(), { wrapper: within() });
    const back = vi.fn(() => Promise.reject(new Error("refused")));
    await act(async () => {
      await result.current.run(() => Promise.resolve(), undefined, back);
    });
    await act(async () => {
      expect(await result.current.undo?.()).toBe(false);
    });
    expect(result.current.undo).not.toBeNull();
    await act(async () => {
      await result.current.run(() => Promise.resolve());
    });
    expect(result.current.undo).toBeNull();
  });
});
