import { scaleLinear } from "d3-scale";
import { ink } from "../theme/system";
import type { FarmTime } from "../time/farmTime";
import { figure, measure, waterShort, type UnitSystem } from "../units/format";
import { AHEAD_SHARE, LEFT } from "./frame";
import type { Series } from "./queries";
import { shownDay } from "../time/enteredDate";
import { t } from "./t";

const HEIGHT = 84;
const BARS = 58;

interface Props {
  series: Series;
  width: number;
  time: FarmTime;
  units: UnitSystem;
  etcAhead: number | null;
}

/** Crop water use of each day, rain marked on it, and the days' names for all three views. */
export function DailyUse({ series, width, time, units, etcAhead }: Props) {
  const hours = series.days * 24;
  const past = Math.floor((width - LEFT) * (1 - AHEAD_SHARE));
  const now = LEFT + past;
  const x = scaleLinear().domain([-hours, 0]).range([LEFT, now]);
  const most = Math.max(...series.use.map((u) => u.etc_mm ?? 0), etcAhead ?? 0, 1);
  const peak = series.use.findIndex((u) => u.etc_mm !== null && u.etc_mm >= most);
  const tall = scaleLinear()
    .domain([0, most])
    .range([0, BARS - 16]);
  const day = x(24) - x(0);
  const every = Math.max(Math.ceil(74 / day), 1);
  const offset = time.hoursTo(`${series.use[0]?.date ?? ""}T12:00:00Z`);
  return (
    <svg
      width={width}
      height={HEIGHT}
      display="block"
      role="img"
      aria-label={t("block.cropWaterUseByDayHighest", { most: waterShort(most, units) })}
    >
      {series.use.map((u, i) => {
        const left = x(Math.max(offset + i * 24 - 12, -hours));
        const bar = tall(u.etc_mm ?? 0);
        return (
          <g key={u.date}>
            {u.etc_mm !== null && (
              <rect
                x={left + 1}
                y={BARS - bar}
                width={Math.max(day - 2, 1)}
                height={bar}
                fill={ink("loam")}
              >
                <title>{`${shownDay(u.date)}: ${waterShort(u.etc_mm, units)}`}</title>
              </rect>
            )}
            {i === peak && (
              <text
                x={left + day / 2}
                y={BARS - bar - 4}
                textAnchor="middle"
                style={{ fontSize: 11 }}
                fill={ink("ink")}
              >
                {figure(u.etc_mm, units, "water")}
              </text>
            )}
            {(u.rain_mm ?? 0) > 0 && (
              <g stroke={ink("water")} strokeWidth={1.6}>
                <path d={`M${left + day / 2 - 4} ${BARS + 10} l3 -8 m2 8 l3 -8`} fill="none" />
                {day > 16 && (
                  <text
                    x={left + day / 2 + 6}
                    y={BARS + 10}
                    style={{ fontSize: 10.5 }}
                    fill={ink("ink")}
                    stroke="none"
                  >
                    {waterShort(u.rain_mm, units).split(" ")[0]}
                  </text>
                )}
              </g>
            )}
            {(series.use.length - i) % every === 0 && i > 0 && (
              <text x={left} y={HEIGHT - 2} style={{ fontSize: 12 }} fill={ink("inkSoft")}>
                {time.date(time.at(offset + i * 24)).replace(/(\w{3})\w+$/, "$1")}
              </text>
            )}
          </g>
        );
      })}
      {etcAhead !== null && (
        <rect
          x={now + 2}
          y={BARS - tall(etcAhead)}
          width={Math.max(width - now - 4, 0)}
          height={tall(etcAhead)}
          fill="none"
          stroke={ink("loam")}
          strokeDasharray="2 3"
        />
      )}
      <line x1={now} x2={now} y1={0} y2={BARS} stroke={ink("ink")} strokeWidth={1.6} />
      <text
        x={now}
        y={HEIGHT - 2}
        textAnchor="middle"
        style={{ fontSize: 12, fontWeight: 700 }}
        fill={ink("ink")}
      >
        {t("block.now")}
      </text>
      <text x={0} y={14} style={{ fontSize: 12 }} fill={ink("inkSoft")}>
        {t("block.use2")}
      </text>
      <text x={0} y={28} style={{ fontSize: 12 }} fill={ink("inkSoft")}>
        {measure(units, "water").label}/d
      </text>
      {etcAhead !== null && (
        <text
          x={(now + width) / 2}
          y={BARS - tall(etcAhead) / 2 + 4}
          textAnchor="middle"
          style={{ fontSize: 12 }}
          fill={ink("inkSoft")}
        >
          {figure(etcAhead, units, "waterDay")}
        </text>
      )}
    </svg>
  );
}
