import { describe, expect, it } from "vitest";
import { shown } from "../testing/shown";
import { polygonOf, type LonLat } from "./planScale";
import { MapKey } from "./MapKey";
import { PlanView } from "./PlanView";
import type { FarmMap } from "./queries";

const nothing = () => undefined;
const PLAIN = { soil: "", surveyed: false };
const RING: LonLat[] = [
  [3.05, 56.4],
  [3.06, 56.4],
  [3.06, 56.41],
  [3.05, 56.41],
];
const geometry = (ring: LonLat[]) => ({ ...polygonOf(ring) });

const MAP: FarmMap = {
  blocks: [
    {
      id: 1,
      name: "Quern",
      area_m2: 9e4,
      outline_m2: 9.2e4,
      crop: "Potato",
      soil: "Loam",
      geometry: geometry(RING),
    },
    {
      id: 2,
      name: "Nowhere",
      area_m2: 9e4,
      outline_m2: null,
      crop: null,
      soil: "Loam",
      geometry: null,
    },
  ],
  features: [
    {
      id: 1,
      kind: "pump",
      ...PLAIN,
      name: "River pump",
      geometry: { type: "Point", coordinates: [3.049, 56.4] },
    },
    {
      id: 2,
      kind: "pipe",
      ...PLAIN,
      name: "Main",
      geometry: { type: "LineString", coordinates: RING },
    },
    {
      id: 3,
      kind: "tree line",
      ...PLAIN,
      name: "Belt",
      geometry: { type: "LineString", coordinates: RING },
    },
    {
      id: 4,
      kind: "soil zone",
      name: "Gravel",
      soil: "Gravel",
      surveyed: true,
      geometry: geometry(RING),
    },
    {
      id: 5,
      kind: "instrument",
      ...PLAIN,
      name: "Probe",
      geometry: { type: "Point", coordinates: [3.055, 56.405] },
    },
  ],
};

function plan(changes: Partial<Parameters<typeof PlanView>[0]> = {}): string {
  return shown(
    <PlanView
      map={MAP}
      states={new Map()}
      extra={[]}
      width={800}
      height={500}
      units="metric"
      chosen={null}
      choose={nothing}
      draft={null}
      closed={false}
      editing={false}
      setDraft={nothing}
      {...changes}
    />,
  );
}

describe("the plan", () => {
  it("draws what has an outline and names it to who can't see", () => {
    const drawn = plan({ chosen: 1 });
    expect(drawn).toContain('aria-label="Quern"');
    expect(drawn).toContain('aria-pressed="true"');
    expect(drawn).not.toContain("Nowhere");
    expect(drawn).toContain("pipe: Main");
    expect(drawn).toContain("tree line: Belt");
    expect(drawn).toContain("soil zone: Gravel, surveyed, not seen");
    expect(drawn).toContain("River pump");
    expect(drawn).not.toContain("NaN");
  });

  it("says how each block stands, by the board's mark and word", () => {
    const drawn = plan({ states: new Map([[1, "below_refill" as const]]) });
    expect(drawn).toContain('aria-label="Quern: Below refill"');
    const key = shown(<MapKey map={MAP} states={new Map([[1, "below_refill" as const]])} />);
    expect(key.match(/<li[ >]/g)).toHaveLength(6);
    for (const word of ["Below refill", "pump", "pipe", "tree line", "soil zone", "instrument"]) {
      expect(key).toContain(word);
    }
    expect(key).not.toContain("NaN");
    expect(shown(<MapKey map={{ blocks: [], features: [] }} states={new Map()} />)).not.toContain(
      "<ul",
    );
  });

  it("has a scale bar in the person's units, and a north", () => {
    expect(plan()).toMatch(/>\d+ m</);
    expect(plan({ units: "us" })).toMatch(/>\d+ ft</);
    expect(plan()).toContain(">N<");
  });

  it("stands on an empty farm too", () => {
    const drawn = plan({ map: { blocks: [], features: [] } });
    expect(drawn).not.toContain("NaN");
    expect(drawn).toContain("Show whole farm");
  });

  it("shows a draft's corners, and handles between them when it is edited", () => {
    const corners = RING.slice(0, 3);
    expect(plan({ draft: [] })).not.toMatch(/ d="M"/);
    expect(plan({ draft: corners }).match(/<circle/g)).toHaveLength(3);
    const edited = plan({ draft: corners, editing: true, closed: true });
    expect(edited.match(/<circle/g)).toHaveLength(6);
  });

  it("shows outlines that are about to come in", () => {
    expect(plan({ extra: [polygonOf(RING)] })).toContain("rust");
  });
});
