import { useQuery } from "@tanstack/react-query";
import { Problem, answer, client, pageHeader } from "../../api/client";
import type { ImportView } from "../../api/types";

/** Sends a file, or a table with how to read it; says how much of it has gone, and stops when told to. */
export function importFile(
  file: File,
  progress: (share: number) => void,
  stop: AbortSignal,
  mapping?: object,
  turning = false,
): Promise<ImportView> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    const query = new URLSearchParams({ source: file.name.slice(0, 120) });
    if (mapping) query.set("mapping", JSON.stringify(mapping));
    if (turning) query.set("turn", "yes");
    request.open("POST", `/api/import${mapping ? "/table" : ""}?${query.toString()}`);
    request.setRequestHeader("content-type", mapping ? "text/csv" : "application/x-ndjson");
    Object.entries(pageHeader()).forEach(([name, value]) => request.setRequestHeader(name, value));
    request.responseType = "json";
    request.upload.onprogress = (e) => progress(e.lengthComputable ? e.loaded / e.total : 0);
    request.onload = () =>
      request.status === 200 ? resolve(request.response as ImportView) : reject(Problem.of(request.response));
    request.onerror = () => reject(Problem.of(undefined));
    request.onabort = () =>
      reject(
        new Problem(
          "The import was stopped.",
          "Nothing of the file was taken.",
          "Drop it again to start over.",
        ),
      );
    stop.addEventListener("abort", () => request.abort());
    request.send(file);
  });
}

/** What the first rows of a table would be read as; nothing is taken. */
export function useTablePreview(name: string, text: string, mapping: object, when: boolean) {
  return useQuery({
    queryKey: ["table", name, text.length, mapping],
    queryFn: ({ signal }) =>
      answer(
        client.POST("/api/import/table/preview", {
          params: { query: { source: name.slice(0, 120), mapping: JSON.stringify(mapping) } },
          body: text as never,
          bodySerializer: (body) => body,
          headers: { "content-type": "text/csv" },
          signal,
        }),
      ),
    placeholderData: (before) => before,
    retry: false,
    enabled: when,
  });
}

/** Mappings somebody gave a name. */
export function useMappings() {
  return useQuery({
    queryKey: ["mappings"],
    queryFn: () => answer(client.GET("/api/import/table/mappings")),
  });
}

/**
 * States records by hand and refuses where one of them cannot be taken, in words that may begin with which it is; the others are taken all
 * the same.
 */
export async function stateAll(
  records: object[],
  which: (bad: ImportView["rejected"][number]) => string = () => "",
): Promise<ImportView> {
  const report = await stateRecords(records);
  const bad = report.rejected[0];
  if (bad) throw new Error(`${which(bad)}${bad.field} ${bad.reason}.`);
  return report;
}

/** States records by hand, one a line as in a fleet file; lines that cannot be taken leave the others unharmed. */
export function stateRecords(records: object[]): Promise<ImportView> {
  const file = new File([records.map((r) => JSON.stringify(r)).join("\n")], "by hand");
  return importFile(file, () => {}, new AbortController().signal);
}
