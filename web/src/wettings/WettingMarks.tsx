import type { KeyboardEvent } from "react";
import type { FarmTime } from "../time/farmTime";
import { ink } from "../theme/system";
import type { UnitSystem } from "../units/format";
import { began, middle, reached } from "./describe";
import type { Wetting } from "./queries";
import { t } from "./t";

interface Props {
  wettings: Wetting[];
  chosen: number | null;
  choose: (id: number | null) => void;
  /** Hours from now to the drawing's x, depth [mm] to its y [px]. */
  x: (hours: number) => number;
  y: (mm: number) => number;
  time: FarmTime;
  units: UnitSystem;
}

const HIT = 14;

/** The way of each wetting's water into the soil: from sensor to sensor, down to where it ended. */
export function WettingMarks({ wettings, chosen, choose, x, y, time, units }: Props) {
  return (
    <>
      {wettings.map((w) => {
        const way = wayDown(w, time);
        const end = way.at(-1);
        if (!end) return null;
        const points = way.map((p) => `${x(p.hours)} ${y(p.mm)}`).join(" L");
        const tip = `m-4 -6 l4 6 l4 -6`;
        const low = y(w.reached_low_mm);
        const high = w.reached_high_mm === null ? null : y(w.reached_high_mm);
        const isChosen = w.id === chosen;
        return (
          <g
            key={w.id}
            role="button"
            className="wetting"
            tabIndex={0}
            aria-pressed={isChosen}
            aria-label={t("wettings.markOf", {
              began: began(w, time),
              reached: reached(w, units),
            })}
            style={{ cursor: "pointer" }}
            onClick={() => choose(isChosen ? null : w.id)}
            onKeyDown={(e) => onPress(e, () => choose(isChosen ? null : w.id))}
          >
            <path d={`M${points}`} fill="none" stroke="transparent" strokeWidth={HIT} />
            {isChosen && (
              <path d={`M${points} ${tip}`} fill="none" stroke={ink("ink")} strokeWidth={5} />
            )}
            <path
              d={`M${points} ${tip}`}
              fill="none"
              stroke="#fff"
              strokeWidth={isChosen ? 2.4 : 1.6}
              className="wetting-line"
            />
            {isChosen && high !== null && (
              <path
                d={`M${x(end.hours) - 5} ${low} h10 M${x(end.hours) - 5} ${high} h10 M${x(end.hours)} ${low} V${high}`}
                stroke="#fff"
                strokeDasharray="2 2"
                fill="none"
              />
            )}
          </g>
        );
      })}
    </>
  );
}

/** Where the front was when: at the surface as it began, at each sensor in turn, at its end. */
function wayDown(wetting: Wetting, time: FarmTime): { hours: number; mm: number }[] {
  const hours = (after: string, by: string) => time.hoursTo(middle(after, by));
  const way = [{ hours: hours(wetting.began_after, wetting.began_by), mm: 0 }];
  for (const s of wetting.sensors) {
    if (s.arrived_after === null || s.arrived_by === null) continue;
    const at = Math.max(hours(s.arrived_after, s.arrived_by), way.at(-1)?.hours ?? -Infinity);
    way.push({ hours: at, mm: s.depth_mm });
  }
  const last = way.at(-1);
  if (last) way.push({ hours: last.hours, mm: Math.max(wetting.reached_mm, last.mm) });
  return way;
}

function onPress(event: KeyboardEvent, act: () => void) {
  if (event.key !== "Enter" && event.key !== " ") return;
  event.preventDefault();
  act();
}
