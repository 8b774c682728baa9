import { scaleLinear } from "d3-scale";
import { ink } from "../theme/system";
import type { FarmTime } from "../time/farmTime";
import { waterShort, type UnitSystem } from "../units/format";
import type { BoardData } from "./queries";
import { AHEAD_HOURS, PAST_HOURS } from "./Ribbon";
import { t } from "./t";

interface Props {
  width: number;
  time: FarmTime;
  rain: BoardData["rain"];
  rainAhead: BoardData["rain_ahead"];
  units: UnitSystem;
}

/** Day names over the furrows, with the rain that fell and the chance of more. */
export function Axis({ width, time, rain, rainAhead, units }: Props) {
  const x = scaleLinear().domain([-PAST_HOURS, AHEAD_HOURS]).range([0, width]);
  const midnights = time.midnights(-PAST_HOURS, AHEAD_HOURS);
  const dayWidth = x(24) - x(0);
  const every = dayWidth < 30 ? 3 : 1;
  const today = midnights.filter((h) => h < 0).at(-1);
  return (
    <svg width={width} height={36} aria-hidden focusable="false" display="block">
      {midnights.map((h, i) => {
        const middle = time.at(h + 12);
        const isToday = h === today;
        if ((i % every !== 0 && !isToday) || x(h) + dayWidth / 2 > width) return null;
        const nextIsToday = midnights[i + 1] === today;
        const numbered = isToday || (time.weekday(middle) === "Mon" && !nextIsToday);
        return (
          <text
            key={h}
            x={x(h) + dayWidth / 2}
            y={14}
            textAnchor="middle"
            style={{ fontSize: 13, fontWeight: isToday ? 700 : 400 }}
            fill={isToday ? ink("ink") : ink("inkSoft")}
          >
            {time.weekday(middle)}
            {numbered && dayWidth > 38 ? ` ${time.dayOfMonth(middle)}` : ""}
          </text>
        );
      })}
      {rain.map((r) => {
        const hours = time.hoursTo(`${r.date}T12:00:00Z`);
        if (hours < -PAST_HOURS) return null;
        return (
          <g key={r.date} transform={`translate(${x(hours)} 21)`}>
            <path
              d="M-14 9 l3 -8 M-9 9 l3 -8 M-4 9 l3 -8"
              stroke={ink("water")}
              strokeWidth={1.6}
              fill="none"
            />
            <text x={2} y={9} style={{ fontSize: 10.5 }} fill={ink("ink")}>
              {waterShort(r.rain_mm, units).split(" ")[0]}
            </text>
          </g>
        );
      })}
      {dayWidth > 30 &&
        rainAhead.map((r) => {
          const hours = time.hoursTo(`${r.date}T12:00:00Z`);
          if (hours > AHEAD_HOURS - 8 || hours < 4) return null;
          return (
            <text
              key={r.date}
              x={x(hours)}
              y={30}
              textAnchor="middle"
              style={{ fontSize: 10.5, fontWeight: r.chance >= 0.5 ? 700 : 400 }}
              fill={ink("water")}
            >
              {`${Math.round(r.chance * 100)} %`}
            </text>
          );
        })}
      <text
        x={x(0)}
        y={33}
        textAnchor="middle"
        style={{ fontSize: 13, fontWeight: 700 }}
        fill={ink("ink")}
      >
        {t("board.now")}
      </text>
    </svg>
  );
}
