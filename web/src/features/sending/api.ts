import { useQuery } from "@tanstack/react-query";
import { answer, client, done } from "../../api/client";
import { BLOCK } from "../../api/stretch";
import type { Schemas } from "../../api/types";

export type SendingView = Schemas["SendingView"];
export type SendList = Schemas["SendList"];

export function useSending() {
  return useQuery({
    queryKey: ["sending"],
    queryFn: () => answer(client.GET("/api/sending")),
    refetchInterval: 15_000,
  });
}

export const putList = (id: string, list: SendList) =>
  answer(client.PUT("/api/sending/lists/{id}", { params: { path: { id } }, body: list }));

export const removeList = (id: string) =>
  done(client.DELETE("/api/sending/lists/{id}", { params: { path: { id } } }));

export const tryList = (id: string) =>
  answer(client.POST("/api/sending/lists/{id}/try", { params: { path: { id } } }));

export const listSecret = (id: string) =>
  answer(
    client.GET("/api/sending/lists/{id}/secret", { params: { path: { id } }, parseAs: "text" }) as Promise<{
      data?: string;
      error?: unknown;
    }>,
  );

/** The recovery sheets of databases whose names have some words, as a long list, and those of all sites. */
export const sheetsOf = (words: string) => ({
  key: ["sheets", words],
  ask: (from: number) =>
    answer(client.GET("/api/sheets", { params: { query: { words, from, most: BLOCK } } })),
});

export const writeSheets = () => answer(client.POST("/api/sheets"));
