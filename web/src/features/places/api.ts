import { useQuery } from "@tanstack/react-query";
import { answer, client } from "../../api/client";
import type { Schemas } from "../../api/types";

export type PlacesView = Schemas["PlacesView"];
export type Place = Schemas["PlaceView"];
export type PlaceType = "site" | "store" | "route";

/** Sites, stores and routes, retired ones, too. */
export function usePlaces() {
  return useQuery({ queryKey: ["places"], queryFn: () => answer(client.GET("/api/places")) });
}

/** What changes when a place does. */
export const FOLLOWS_PLACES = [["places"], ["choices"], ["stores"], ["fleet"], ["begin"]];

/** Says one as a whole; a fresh one is refused where there is one of its id. */
export const statePlace = (type: PlaceType, document: object, fresh: boolean) =>
  answer(
    client.POST("/api/places/{type}", {
      params: { path: { type }, query: fresh ? { fresh: "yes" } : {} },
      body: document as Record<string, never>,
    }),
  );

/** Has one offered to nothing new any longer, or again. */
export const retirePlace = (type: PlaceType, id: string, retired: boolean) =>
  answer(
    client.POST("/api/places/{type}/{id}/retired", { params: { path: { type, id } }, body: { retired } }),
  );
