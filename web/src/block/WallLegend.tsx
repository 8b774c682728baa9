import { ink } from "../theme/system";
import { LEFT } from "./frame";
import { WALL_STOPS } from "./wall";
import { t } from "./t";

const WIDTH = 170;
const DRIEST = WALL_STOPS[0]?.[0] ?? 0;
const WETTEST = WALL_STOPS.at(-1)?.[0] ?? 1;

function at(share: number): number {
  return ((share - DRIEST) / (WETTEST - DRIEST)) * WIDTH;
}

/** The wall's colours, from wilting to full and beyond. */
export function WallLegend() {
  return (
    <svg width={LEFT + WIDTH + 80} height={32} aria-hidden focusable="false" display="block">
      <defs>
        <linearGradient id="wall-colours">
          {WALL_STOPS.map(([share, rgb]) => (
            <stop
              key={share}
              offset={(share - DRIEST) / (WETTEST - DRIEST)}
              stopColor={`rgb(${rgb.join(" ")})`}
            />
          ))}
        </linearGradient>
      </defs>
      <g transform={`translate(${LEFT} 4)`} style={{ fontSize: 11.5 }} fill={ink("inkSoft")}>
        <rect width={WIDTH} height={10} fill="url(#wall-colours)" />
        <path d={`M${at(1)} 0 v14`} stroke={ink("ink")} />
        <text y={24}>{t("block.wilting2")}</text>
        <text x={at(1)} y={24} textAnchor="middle">
          {t("block.full")}
        </text>
        <text x={WIDTH + 6} y={9}>
          {t("block.aboveFull2")}
        </text>
      </g>
    </svg>
  );
}
