import { Box, Flex, Text } from "@chakra-ui/react";
import { ink } from "../theme/system";
import { shownDay } from "../time/enteredDate";
import type { FarmTime } from "../time/farmTime";
import type { NextRound } from "./queries";
import { t } from "./t";

const WIDTH = 220;
const HEIGHT = 170;
const EDGE = 16;

/** The next round: how many leaves where, when to bag and to read, and the way from plant to plant. */
export function NextRoundPlan({ plan, time }: { plan: NextRound; time: FarmTime }) {
  const count = plan.leaves.reduce((sum, z) => sum + z.leaves, 0);
  const clock = (at: string | null) => (at ? time.clock(new Date(at)) : "");
  return (
    <Flex gap="5" wrap="wrap" align="start" mt="2">
      <Box flex="1 1 300px">
        <Text fontWeight="700">{t("leaf.nextRound", { day: shownDay(plan.on), count })}</Text>
        {plan.leaves.some((z) => z.zone) && (
          <Text fontSize="sm">
            {plan.leaves.map((z) => t("leaf.inZone", { zone: z.zone, count: z.leaves })).join(", ")}
          </Text>
        )}
        {plan.noon ? (
          <Text fontSize="sm">
            {t("leaf.roundTimes", {
              bag: clock(plan.bag_from),
              from: clock(plan.read_from),
              until: clock(plan.read_until),
              noon: clock(plan.noon),
            })}{" "}
            {plan.fits === false && t("leaf.doesNotFit")}
          </Text>
        ) : (
          <Text fontSize="sm" color="inkSoft">
            {t("leaf.placeNotKnown")}
          </Text>
        )}
        <Text fontSize="sm" color="inkSoft">
          {t("leaf.howToSample")}
        </Text>
      </Box>
      {plan.spots.length > 1 && <Walk spots={plan.spots} />}
    </Flex>
  );
}

/** Plants to read as seen from above, numbered in the order of the walk; north is up. */
function Walk({ spots }: { spots: NextRound["spots"] }) {
  const shrink = Math.cos((spots[0]!.latitude * Math.PI) / 180);
  const flat = spots.map((s) => ({ ...s, x: s.longitude * shrink, y: s.latitude }));
  const west = Math.min(...flat.map((s) => s.x));
  const south = Math.min(...flat.map((s) => s.y));
  const wide = Math.max(...flat.map((s) => s.x)) - west;
  const high = Math.max(...flat.map((s) => s.y)) - south;
  const scale = Math.min((WIDTH - 2 * EDGE) / (wide || 1), (HEIGHT - 2 * EDGE) / (high || 1));
  const at = (s: { x: number; y: number }) => ({
    x: EDGE + (s.x - west) * scale,
    y: HEIGHT - EDGE - (s.y - south) * scale,
  });
  const places = flat.map((s) => ({ ...s, ...at(s) }));
  return (
    <svg
      width={WIDTH}
      height={HEIGHT}
      role="img"
      aria-label={t("leaf.walkLabel", { count: spots.length })}
    >
      <polyline
        points={places.map((p) => `${p.x},${p.y}`).join(" ")}
        fill="none"
        stroke={ink("inkSoft")}
        strokeWidth={1}
        strokeDasharray="3 3"
      />
      {places.map((p) => (
        <g key={p.place}>
          <circle cx={p.x} cy={p.y} r={8.5} fill={ink("sheet")} stroke={ink("loam")} />
          <text
            x={p.x}
            y={p.y + 3.5}
            textAnchor="middle"
            style={{ fontSize: 10 }}
            fill={ink("ink")}
          >
            {p.place}
          </text>
        </g>
      ))}
    </svg>
  );
}
