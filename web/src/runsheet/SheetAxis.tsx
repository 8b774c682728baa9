import { ink } from "../theme/system";
import type { FarmTime } from "../time/farmTime";
import { ticks, type PlotScale } from "./plotScale";

interface Props {
  scale: PlotScale;
  time: FarmTime;
  starts: string[];
  nights: { from_at: string; to_at: string }[];
  height: number;
}

export const AXIS_HEIGHT = 38;
/** Of the band that marks the night, at the foot of the axis. */
const NIGHT_HEIGHT = 4;

/** Days, hours and nights over the lanes, with a line for each down to their end, and one for now. */
export function SheetAxis({ scale, time, starts, nights, height }: Props) {
  const { dayWidth, midnights, hours } = ticks(time, scale, starts);
  const now = scale.x(time.now);
  return (
    <g aria-hidden>
      {nights.map((night) => {
        const from = Math.max(scale.x(night.from_at), scale.left);
        const to = Math.min(scale.x(night.to_at), scale.right);
        return (
          to > from && (
            <rect
              key={night.from_at}
              x={from}
              width={to - from}
              y={AXIS_HEIGHT - NIGHT_HEIGHT}
              height={NIGHT_HEIGHT}
              fill={ink("inkSoft")}
            />
          )
        );
      })}
      {hours.map((at) => (
        <g key={at.getTime()}>
          <line
            x1={scale.x(at)}
            x2={scale.x(at)}
            y1={AXIS_HEIGHT - 4}
            y2={height}
            stroke={ink("rule")}
            strokeWidth={0.6}
          />
          <text
            x={scale.x(at)}
            y={AXIS_HEIGHT - 8}
            textAnchor="middle"
            style={{ fontSize: 11 }}
            fill={ink("inkSoft")}
          >
            {time.clock(at).slice(0, 2)}
          </text>
        </g>
      ))}
      {midnights.map((at) => (
        <g key={at.getTime()}>
          <line
            x1={scale.x(at)}
            x2={scale.x(at)}
            y1={4}
            y2={height}
            stroke={ink("inkSoft")}
            strokeWidth={0.8}
          />
          <text
            x={scale.x(at) + 5}
            y={15}
            style={{ fontSize: 13, fontWeight: time.isToday(at) ? 700 : 400 }}
            fill={ink("ink")}
          >
            {dayWidth > 60
              ? `${time.weekday(at)} ${time.dayOfMonth(at)}`
              : time.weekday(at).slice(0, 2)}
          </text>
        </g>
      ))}
      <line
        x1={now}
        x2={now}
        y1={AXIS_HEIGHT - 5}
        y2={height}
        stroke={ink("ink")}
        strokeWidth={1.6}
      />
    </g>
  );
}
