import { useEffect, useState } from "react";
import { Link, useParams } from "react-router";
import type { DatabaseView } from "../../api/types";
import { useDatabase } from "./api";
import { gradeText } from "../../ribbon/grade";
import { Ribbon, RibbonPatterns } from "../../ribbon/Ribbon";
import { hazardName } from "../../ribbon/words";
import { useView } from "../../time/view";
import { size } from "../../time/words";
import { Held } from "../../ui/Held";
import { ProblemNote } from "../../ui/ProblemNote";
import { useWidth } from "../../ui/useWidth";
import { useAskWhy } from "../../why/context";
import { useKeys } from "../../ui/useKeys";
import { StartForm } from "../runners/StartForm";
import { AgeChart } from "./AgeChart";
import { Aside } from "./Aside";
import { Backups } from "./Backups";
import { FullsChart } from "./FullsChart";
import { HoldForm } from "./HoldForm";
import { RoomChart } from "./RoomChart";
import { Shelves } from "./Shelves";
import { SlotsChart } from "./SlotsChart";

const LABELS = 86;
const WATER_OF: Record<string, number> = { mishap: 1, siteLoss: 2, sabotage: 3 };

/** One database: what survives what, how old its recovery point was, what hangs from what, and what may be purged. */
export function DatabasePage() {
  const { id = "" } = useParams();
  const view = useView();
  const database = useDatabase(id, view.params);
  useEffect(() => {
    document.title = `${id} · Firth`;
  }, [id]);
  if (database.error) return <ProblemNote error={database.error} />;
  if (!database.data) return <main className="h-96 animate-pulse px-5 py-6" aria-busy />;
  return (
    <Held stale={database.isPlaceholderData}>
      <Database data={database.data} />
    </Held>
  );
}

function Database({ data }: { data: DatabaseView }) {
  const { row } = data;
  const ask = useAskWhy();
  const [box, full] = useWidth<HTMLDivElement>();
  const [starting, setStarting] = useState(false);
  const [holding, setHolding] = useState<{ backup: string | null } | null>(null);
  const { asOf, search } = useView();
  useKeys({ s: () => asOf === null && setStarting(true) });
  const width = Math.max(200, full - LABELS);
  const zone = row.zone;
  const broken = row.grade === "behind" || row.grade === "stranded";
  const whyGrade = { database: row.id, about: "grade" } as const;
  return (
    <div
      className="grid min-h-[calc(100vh-116px)] grid-cols-[minmax(0,1fr)_340px] max-[1000px]:grid-cols-1"
      data-why-page={JSON.stringify({ subject: whyGrade, zone })}
    >
      <RibbonPatterns />
      <main className="px-5 pt-3 pb-10">
        <div className="flex flex-wrap items-baseline gap-x-3">
          <h1 className="text-page">{row.name}</h1>
          <button
            className={`font-semibold underline decoration-dotted ${broken ? "text-coral-text" : ""}`}
            data-testid="grade"
            title="Why?"
            data-why={JSON.stringify({ subject: whyGrade, zone })}
            onClick={() => ask(whyGrade, zone)}
          >
            {gradeText(row)}
          </button>
          <span className="text-muted">
            {[
              row.engine,
              row.site,
              row.policy?.name ?? "no policy",
              data.sizeBytes !== null ? size(data.sizeBytes) : "",
            ]
              .filter(Boolean)
              .join(" · ")}{" "}
            · times in {zone}
          </span>
          <span className="ml-auto flex gap-4">
            <Link
              className="text-button"
              to={`/restore?${new URLSearchParams({ database: row.id })}${search.replace("?", "&")}`}
            >
              Restore…
            </Link>
            {asOf === null && (
              <button className="text-button" onClick={() => setStarting(true)}>
                Start a backup…
              </button>
            )}
          </span>
        </div>
        <div ref={box}>{full > 0 && <Charts data={data} width={width} />}</div>
        <Backups
          id={row.id}
          zone={zone}
          tallies={data.tallies}
          onHold={asOf === null ? (backup) => setHolding({ backup }) : null}
        />
      </main>
      <Aside data={data} onHold={(backup) => setHolding({ backup })} />
      {holding && <HoldForm data={data} backup={holding.backup} onClose={() => setHolding(null)} />}
      {starting && <StartForm database={row.id} onClose={() => setStarting(false)} />}
    </div>
  );
}

function Charts({ data, width }: { data: DatabaseView; width: number }) {
  const { row } = data;
  return (
    <>
      <h2 className="mt-3 text-section">Cover, and what survives</h2>
      {data.channels.map((c) => (
        <div key={c.hazard} className="flex items-center" data-channel={c.hazard}>
          <span className="w-[86px] pr-3 text-right">{hazardName(c.hazard)}</span>
          <Ribbon
            water={c.restorable.map((s) => ({ ...s, depth: WATER_OF[c.hazard] ?? 1, survives: [c.hazard] }))}
            sand={c.hazard === "mishap" ? row.sand : []}
            marks={c.hazard === "mishap" ? row.marks : []}
            from={data.from}
            to={data.to}
            width={width}
            zone={row.zone}
            height={18}
          />
        </div>
      ))}
      <AgeChart data={data} width={width} labels={LABELS} />
      <FullsChart data={data} width={width} labels={LABELS} />
      <SlotsChart data={data} width={width} labels={LABELS} />
      <Shelves data={data} width={width} labels={LABELS} />
      <RoomChart data={data} width={width} labels={LABELS} />
    </>
  );
}
