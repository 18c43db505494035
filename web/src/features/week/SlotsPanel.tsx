import { Link } from "react-router";
import { useFirst, useMore } from "../../api/stretch";
import type { Schemas } from "../../api/types";
import { duration, moment } from "../../time/words";
import { MoreButton } from "../../ui/MoreButton";
import { ProblemNote } from "../../ui/ProblemNote";
import { SidePanel } from "../../ui/SidePanel";
import { slotsOf } from "./api";
import { bandWords, type Band } from "./LoadBands";

type Props = { by: string; band: Band; zone: string; onClose: () => void };

/** The slots of a band, one by one. */
export function SlotsPanel({ by, band, zone, onClose }: Props) {
  const asked = slotsOf(by, band.from, band.to);
  const slots = useFirst(asked);
  return (
    <SidePanel width="w-[460px]" testId="slots" onClose={onClose}>
      <h2 className="text-lead">{bandWords(band, zone)}</h2>
      {slots.error && <ProblemNote error={slots.error} />}
      {slots.data && <Slots key={band.from} slots={slots.data} asked={asked} zone={zone} />}
    </SidePanel>
  );
}

function Slots(props: { slots: Schemas["SlotList"]; asked: ReturnType<typeof slotsOf>; zone: string }) {
  const { slots, asked, zone } = props;
  const { rows, left, more } = useMore(asked, slots, slots.found);
  return (
    <>
      <ul>
        {rows.map((s) => (
          <li
            key={s.database + s.schedule + s.open}
            className="border-t border-line py-1"
            data-slot={`${s.database} ${s.schedule}`}
          >
            <Link
              className="font-semibold hover:underline"
              to={`/databases/${encodeURIComponent(s.database)}`}
            >
              {s.name}
            </Link>{" "}
            {s.kind} at {moment(s.open, zone)}
            <span className="text-muted">
              {s.medianSeconds !== null && `, usually ${duration(s.medianSeconds)}`}
            </span>
          </li>
        ))}
      </ul>
      <MoreButton left={left} onMore={more} />
    </>
  );
}
