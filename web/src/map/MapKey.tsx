import { Flex, Text } from "@chakra-ui/react";
import type { ReactNode } from "react";
import { StateMark } from "../answer/StateMark";
import type { State } from "../answer/types";
import { FeatureMark } from "./FeatureMark";
import { linesOf, type Geometry, type LonLat } from "./planScale";
import type { FarmMap, FeatureKind } from "./queries";
import { t } from "./t";

const FLAT = (at: LonLat) => ({ x: at[0], y: at[1] });
const PATH = (geometry: Geometry) =>
  linesOf(geometry)
    .map((line) => `M${line.map((p) => p.join(",")).join("L")}`)
    .join("");

const SQUARE = {
  type: "Polygon",
  coordinates: [
    [
      [2, 4],
      [18, 4],
      [18, 16],
      [2, 16],
      [2, 4],
    ],
  ],
} as const;

/** What a sign of each kind looks like, in a square of 20 px. */
const SIGNS = {
  pipe: {
    type: "LineString",
    coordinates: [
      [1, 10],
      [19, 10],
    ],
  },
  "tree line": {
    type: "LineString",
    coordinates: [
      [4, 10],
      [16, 10],
    ],
  },
  "soil zone": SQUARE,
  pump: { type: "Point", coordinates: [10, 10] },
  instrument: { type: "Point", coordinates: [10, 10] },
  fence: {
    type: "LineString",
    coordinates: [
      [1, 10],
      [19, 10],
    ],
  },
  track: {
    type: "LineString",
    coordinates: [
      [1, 10],
      [19, 10],
    ],
  },
  building: SQUARE,
  "wet spot": SQUARE,
  "no probe": SQUARE,
  spring: { type: "Point", coordinates: [10, 10] },
  pivot: { type: "Point", coordinates: [10, 10] },
  gate: { type: "Point", coordinates: [10, 10] },
  "base station": { type: "Point", coordinates: [10, 10] },
} as const satisfies Record<FeatureKind, object>;

const WORDS: Record<FeatureKind, string> = {
  pipe: t("map.pipe"),
  pump: t("map.pump"),
  instrument: t("map.instrument"),
  "tree line": t("map.treeLine"),
  "soil zone": t("map.soilZone"),
  fence: t("map.fence"),
  track: t("map.track"),
  building: t("map.building"),
  "wet spot": t("map.wet spot"),
  spring: t("map.spring"),
  "no probe": t("map.no probe"),
  pivot: t("map.pivot"),
  gate: t("map.gate"),
  "base station": t("map.base station"),
};

interface Props {
  map: FarmMap;
  states: ReadonlyMap<number, State>;
}

/** What the signs on the map mean; only those that are on it. */
export function MapKey({ map, states }: Props) {
  const outlined = map.blocks.filter((b) => b.geometry !== null);
  const seen = [...new Set(outlined.flatMap((b) => states.get(b.id) ?? []))];
  const kinds = [...new Set(map.features.map((f) => f.kind))];
  if (seen.length + kinds.length === 0) return null;
  return (
    <Flex as="ul" aria-label={t("map.key")} listStyleType="none" wrap="wrap" columnGap="5" mt="2">
      {seen.map((state) => (
        <Entry
          key={state}
          sign={<StateMark state={state} size={16} />}
          word={t(`state.${state}`)}
        />
      ))}
      {kinds.map((kind) => (
        <Entry
          key={kind}
          sign={
            <svg width="20" height="20" aria-hidden>
              <FeatureMark
                feature={{
                  kind,
                  name: "",
                  geometry: { ...SIGNS[kind] },
                  soil: "",
                  surveyed: false,
                }}
                path={PATH}
                px={FLAT}
              />
            </svg>
          }
          word={WORDS[kind]}
        />
      ))}
    </Flex>
  );
}

function Entry({ sign, word }: { sign: ReactNode; word: string }) {
  return (
    <Flex as="li" align="center" gap="1.5" fontSize="sm">
      {sign}
      <Text as="span">{word}</Text>
    </Flex>
  );
}
