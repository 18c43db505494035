import { useCover } from "../../api/cover";
import type { Cover } from "../../api/types";
import { gaugeOf, gradeText, overObjective } from "../../ribbon/grade";
import { Ribbon } from "../../ribbon/Ribbon";
import { grown, useStanding } from "../../time/standing";
import { useView } from "../../time/view";
import { duration } from "../../time/words";
import { Gauge } from "../../ui/Gauge";
import { useWidth } from "../../ui/useWidth";

const SHOWN = 6;
const BESIDE = 360;

/** Where nothing is chosen yet: the databases furthest from what is promised of which something can be restored. */
export function NeedsIt({ onChoose }: { onChoose: (database: string) => void }) {
  const view = useView();
  const { data } = useCover(view.params, { by: "none", order: "age", most: 20, ids: 0 });
  return data ? <Rows data={data} onChoose={onChoose} /> : null;
}

function Rows({ data, onChoose }: { data: Cover; onChoose: (database: string) => void }) {
  const standing = useStanding();
  const [box, width] = useWidth<HTMLUListElement>();
  const rows = data.rows.filter((r) => r.water.length > 0 && overObjective(r) > 0).slice(0, SHOWN);
  if (rows.length === 0) return null;
  return (
    <section aria-label="What may need it most" className="mt-5">
      <h2 className="text-section">What may need it most</h2>
      <p className="text-muted">The databases that are furthest from what is promised of them.</p>
      <ul ref={box} className="mt-2">
        {rows.map((r) => {
          const mishap = r.hazards.find((h) => h.hazard === "mishap");
          return (
            <li key={r.id} className="flex items-center gap-3 border-t border-line py-1.5">
              <Gauge grade={gaugeOf(r)} />
              <button
                className="w-[130px] whole truncate text-left font-semibold hover:underline"
                title={r.name}
                onClick={() => onChoose(r.id)}
              >
                {r.name}
              </button>
              <span className="w-[150px] text-note text-muted">
                {gradeText(r)}
                {mishap && `, ${duration(grown(mishap, r.at, standing))} old`}
              </span>
              {width > BESIDE && (
                <Ribbon
                  water={r.water}
                  sand={r.sand}
                  marks={r.marks.filter((m) => m.kind === "full")}
                  from={data.from}
                  to={data.to}
                  width={width - BESIDE}
                  height={12}
                  zone={r.zone}
                />
              )}
            </li>
          );
        })}
      </ul>
    </section>
  );
}
