import { describe, expect, it } from "vitest";
import type { Reason } from "../answer/types";
import { Refusal } from "../api/client";
import { Notice } from "../app/Notice";
import { BoardLine } from "../board/BoardLine";
import { anAnswer, aRow } from "../testing/answers";
import { shown, text } from "../testing/shown";
import { FarmTime } from "../time/farmTime";
import { Answer } from "./Answer";
import { BalanceTable } from "./BalanceTable";
import { DailyUse } from "./DailyUse";
import { DayTable } from "./DayTable";
import { Deficits } from "./Deficits";
import { LayerTable } from "./LayerTable";
import { Limits } from "./Limits";
import type { BlockData, LayerRow, Series } from "./queries";
import { RefillMethods } from "./RefillMethods";
import { Settle } from "./Settle";
import { Store } from "./Store";
import { Working } from "./Working";

const time = new FarmTime("2026-07-14T04:10:00Z", "CET");

const answer = anAnswer({
  state: "irrigate_soon",
  reasons: ["carried_from_reading"],
  confidence: "fair",
  usable_mm: 12.7,
  deficit_mm: 25.4,
  sigma_mm: 5,
  used_share: 0.25,
  days_left: { dry: 0, expected: 2, wet: 4 },
  refill_at: "2026-07-16T04:10:00Z",
  start_at: "2026-07-16T04:00:00Z",
  last_reading_hours: -23,
  amount: { net_mm: 38.1, gross_mm: 50.8, volume_m3: 1270, hours: 12.7 },
  run: null,
});

const layer: LayerRow = {
  site: "T1",
  depth_mm: 300,
  hours: -23.2,
  value: 60,
  is_tension: true,
  doubt: "",
  curve_formula: "min((A / psi) ** (1 / B), ts)",
  curve: [
    { symbol: "A", value: 0.06953, unit: "number", source: "power curve, loam" },
    { symbol: "B", value: 4.7066, unit: "number", source: "power curve, loam" },
    { symbol: "ts", value: 0.45, unit: "theta", source: "power curve, loam" },
  ],
  gravel: 0.1,
  equal_formula: "",
  equal: [],
  equal_kpa: null,
  theta: 0.214,
  horizon: "loam",
  top_mm: 0,
  bottom_mm: 450,
  theta_full: 0.27,
  theta_wilt: 0.12,
  available_mm: 60,
  fraction: 0.785,
  deficit_mm: 12.9,
  surplus_mm: 0,
  watered: 1,
};

const block = {
  id: 4,
  name: "Quern Field",
  answer,
  holds: [],
  root_mm: 400,
  etc_mm_day: 6.4,
  limits: { full_mm: 110, refill_mm: 95, wilt_mm: 54, taw_mm: 56, raw_mm: 15 },
  horizons: [
    {
      top_mm: 0,
      bottom_mm: 250,
      texture: "loam",
      theta_full: 0.279,
      theta_wilt: 0.136,
      full_tension_kpa: 33,
      source: "Saxton & Rawls 2006",
    },
  ],
  ahead: [0, 1, 2, 3, 4, 5].map((day) => ({
    day,
    dry_mm: 8 - 6 * day,
    usable_mm: 12 - 6 * day,
    wet_mm: 16 - 6 * day,
    raw_mm: 15,
  })),
} as unknown as BlockData;

describe("the answer", () => {
  it("says when, how long, how much, how sure, and what to know", () => {
    const said = text(<Answer block={block} time={time} />);
    expect(said).toContain("Irrigate by Thu: start by 06:00 Thu, 12 h 42, 51 mm gross (38 mm net)");
    expect(said).toContain("Deficit 25.4 ± 5.0 mm, 25 % of the available water used");
    expect(said).toContain(
      "roots at 40 cm; crop water use 6.4 mm/day. Refill Thu, between now and Sat.",
    );
    expect(said).toContain("Last reading 23 h ago. Less certain than usual.");
    expect(said).toContain("the water used since then has been added");
  });

  it("says the same in US units", () => {
    const said = text(<Answer block={block} time={time} />, "us");
    expect(said).toContain("12 h 42, 2.00 in gross (1.50 in net), 335,500 gal");
    expect(said).toContain("Deficit 1.00 ± 0.20 in");
    expect(said).toContain("roots at 15.7 in; crop water use 0.25 in/day");
  });

  it("gives no figure that it does not have", () => {
    const silent = {
      ...block,
      answer: {
        ...answer,
        state: "no_reliable_data",
        reasons: ["no_instrument"],
        confidence: "none",
        deficit_mm: null,
        days_left: null,
        start_at: null,
        amount: null,
        last_reading_hours: null,
      },
    } as BlockData;
    const said = text(<Answer block={silent} time={time} />);
    expect(said).toBe(
      "No reliable data This block has no instrument, and no irrigation of it is logged. Log its last irrigation for advice from the water balance, or add an instrument. Log irrigation Add an instrument",
    );
  });
});

describe("the layer table", () => {
  it("shows a tension's way to water", () => {
    const said = text(<LayerTable layers={[layer]} time={time} />);
    expect(said).toContain(
      "30 cm Mon 13 July 06:58 60.0 kPa 0.21400 A 0.06953 B 4.7066 θs 0.45 gravel 10 %",
    );
    expect(said).toContain("0.0–45.0 cm loam 0.27000 – 0.12000 60.00 78.5 % 12.90 0.00");
    expect(said).toContain("θ = min((A ÷ ψ) ^ (1 ÷ B), θs)");
  });

  it("shows a doubted sensor with its reason and no figures", () => {
    const doubted = { ...layer, doubt: "flat line", deficit_mm: null, fraction: null };
    const said = text(<LayerTable layers={[doubted]} time={time} />);
    expect(said).toContain("60.0 kPa excluded: flat line");
    expect(said).not.toContain("12.9");
  });

  it("leaves out what is not there", () => {
    expect(text(<LayerTable layers={[]} time={time} />)).toBe("");
    expect(text(<DayTable days={[]} time={time} />)).toBe("");
    expect(text(<Working steps={[]} />)).toBe("");
    expect(text(<RefillMethods methods={[]} time={time} />)).toBe("");
  });
});

describe("the tables beside it", () => {
  it("names the methods and the one in force", () => {
    const said = text(
      <RefillMethods
        time={time}
        methods={[
          { refill_method: "crop_p", in_force: true, p: 0.31, days_left: 0, net_mm: 12 },
          { refill_method: "flat", in_force: false, p: 0.5, days_left: null, net_mm: null },
          { refill_method: "tension", in_force: false, p: null, days_left: null, net_mm: null },
        ]}
      />,
    );
    expect(said).toContain("crop's p, adjusted for ET (p 0.31) · in force now 12 mm net");
    expect(said).toContain("fixed share of available water (p 0.50) in more than a month – net");
    expect(said).toContain("crop's tension limit (no value) –");
  });

  it("tells the three deficits apart, and the one in force", () => {
    const said = text(
      <Deficits
        time={time}
        limits={block.limits}
        estimates={[
          { estimate_from: "combined", in_force: true, deficit_mm: 14, sigma_mm: 3, days_left: 2 },
          {
            estimate_from: "sensors",
            in_force: false,
            deficit_mm: null,
            sigma_mm: null,
            days_left: null,
          },
          {
            estimate_from: "balance",
            in_force: false,
            deficit_mm: 9,
            sigma_mm: 6,
            days_left: null,
          },
        ]}
      />,
    );
    expect(said).toContain(
      "The bars end at TAW, 56.0 mm; the mark is the refill point in force, 15.0 mm.",
    );
    expect(said).toContain("sensors, as read no data water balance, without readings 9.0 ± 6.0 mm");
    expect(said).toContain("refill in more than a month");
    expect(said).toContain("sensors and water balance combined · in force 14.0 ± ");
    expect(said).toContain("refill Thu");
    expect(text(<Deficits estimates={[]} limits={null} time={time} />)).toBe("");
  });

  it("gives limits with their source", () => {
    const said = text(<Limits block={block} />);
    expect(said).toContain("full 110.0 , refill 95.0 , wilting 54.0 mm");
    expect(said).toContain("0–25 loam Saxton &amp; Rawls 2006, 33 kPa 0.279 0.136");
  });

  it("runs day by day, in the person's units", () => {
    const day = {
      day: 1,
      kc: 1.15,
      et0_mm: 6.2,
      ks: 0.86,
      etc_mm: 6.1,
      bare_mm: 0,
      water_in_mm: 2,
      drained_mm: 0,
      chance_past: 0.54,
      new_soil_mm: 0,
      p: 0.265,
      taw_mm: 56.1,
      raw_mm: 14.9,
      deficit_mm: 20.5,
      usable_mm: -5.6,
    };
    expect(text(<DayTable days={[day]} time={time} />)).toContain(
      "1 · tomorrow 1.150 6.20 0.860 6.10 2.00 0.2650 56.10 20.50 -5.60 54",
    );
    expect(text(<DayTable days={[day]} time={time} />, "us")).toContain(
      "Deficit in Above refill in",
    );
  });
});

const series: Series = {
  now: "2026-07-14T06:10:00+02:00",
  days: 7,
  sites: [],
  store: [-168, -84, 0].map((hours) => ({
    hours,
    store_mm: hours === -84 ? null : 100,
    full_mm: 110,
    refill_mm: 95,
    wilt_mm: 54,
    root_mm: 400,
  })),
  use: [
    { date: "2026-07-12", etc_mm: 6.5, rain_mm: 0 },
    { date: "2026-07-13", etc_mm: null, rain_mm: 8 },
  ],
  sets: [],
  root_ahead_mm: [400],
  profile_depth_mm: 1000,
};

const morning: BlockData["balance"][number] = {
  day: -1,
  hours: -24,
  forecast_mm: 20.5,
  observed_mm: 24,
  gain: 0.4,
  corrected_mm: 1.4,
  depletion_mm: 21.9,
  sigma_mm: 4.2,
  water_in_mm: 0,
  et0_mm: 5.5,
  recorded: false,
  kc: 1.15,
  use_factor: 1.12,
  ks: 1,
  et_mm: 7.1,
  drained_mm: 0,
  runoff_mm: 0,
  new_soil_mm: null,
};

describe("balance and sensors", () => {
  const weighed = {
    forecast_mm: 29,
    forecast_sigma_mm: 5,
    observed_mm: 32.5,
    gain: 0.38,
    correction_mm: 1.3,
    offset_mm: -4,
    use_factor: 1.12,
    use_sigma: 0.05,
  };

  it("say what each estimates and what weight the readings have", () => {
    const said = text(
      <BalanceTable block={{ ...block, weighed, balance: [morning] }} time={time} />,
    );
    expect(said).toContain("Deficit from the water balance, before readings: 29.0 ± 5.0 mm.");
    expect(said).toContain("Deficit from the sensors: 32.5 mm; weight given to the readings: 38 %");
    expect(said).toContain("Estimated sensor bias: 4.0 mm too wet.");
    expect(said).toContain("Crop use estimated at 112.0 ± 5 % of Kc · ET.");
    expect(said).toContain("Mon 20.50 24.00 40 21.90 4.2 0.00 5.5* 1.15 1.12 7.10");
  });

  it("admit where the sensors have no word, and show nothing without a balance", () => {
    const silent = { ...weighed, observed_mm: null, gain: 0, offset_mm: null, use_factor: 1 };
    const row = { ...morning, observed_mm: null, gain: 0 };
    const said = text(
      <BalanceTable block={{ ...block, weighed: silent, balance: [row] }} time={time} />,
    );
    expect(said).toContain("No new readings. Each row");
    expect(said).toContain("Mon 20.50 – – 21.90");
    expect(text(<BalanceTable block={{ ...block, balance: [] }} time={time} />)).toBe("");
  });
});

describe("the drawings", () => {
  it("label full and refill, and say them to a screen reader", () => {
    const markup = shown(<Store series={series} block={block} width={800} units="metric" />);
    expect(markup).toContain('aria-label="Water in the root zone: full at 110, refill at 95 mm"');
    expect(markup).toContain("full 110");
    expect(markup).not.toContain("NaN");
  });

  it("draw no bar for a day that is not known", () => {
    const markup = shown(
      <DailyUse series={series} width={800} time={time} units="metric" etcAhead={null} />,
    );
    expect(markup.match(/<rect/g)).toHaveLength(1);
    expect(markup).toContain("12 Jul 2026: 7 mm");
    expect(markup).not.toContain("NaN");
  });
});

describe("a line of the board", () => {
  const row = aRow({
    answer,
    sets: [
      {
        id: 1,
        status: "done",
        starts_at: "2026-07-12T22:10:00Z",
        ends_at: "2026-07-13T02:10:00Z",
        start_hours: -30,
        end_hours: -26,
        gross_mm: 16,
      },
    ],
  });

  it("says in words what the ribbon shows, and leads to the block", () => {
    const markup = shown(
      <BoardLine
        row={row}
        mark={undefined}
        slug="f"
        width={700}
        time={time}
        units="metric"
        act={null}
      />,
    );
    expect(markup).toContain('href="/f/blocks/4"');
    expect(markup).toContain(
      'aria-label="Quern Field, Potato: Irrigate by Thu; Thu 06:00 · 12 h 42 · 51 mm"',
    );
    expect(markup).not.toContain("NaN");
  });
});

describe("a refusal", () => {
  it("is told with its row, column and cure, to a screen reader too", () => {
    const refusal = new Refusal(422, "Not imported.", [
      { row: 3, column: "20 cm", field: "", message: "'wet' is not a number." },
      { row: null, column: "", field: "unit", message: "Choose another unit." },
    ]);
    const markup = shown(<Notice error={refusal} />);
    expect(markup).toContain('role="alert"');
    expect(text(<Notice error={refusal} />)).toBe(
      "Not imported. Row 3, column “20 cm”: 'wet' is not a number. Choose another unit.",
    );
    expect(text(<Notice error={new TypeError("x is undefined")} />)).not.toContain("undefined");
  });
});

describe("the question that settles a contradiction", () => {
  const asking = { id: 4, instruments: [{ id: 9 }] } as unknown as BlockData;
  const question = {
    kind: "water_not_logged",
    first_at: "2026-07-12T04:10:00Z",
    last_at: "2026-07-13T04:10:00Z",
    net_mm: 20.2,
    gross_mm: 22.4,
    set_id: null,
  } as const;

  it("asks about water that nobody logged, offers to log it, and says what is safe", () => {
    const said = text(shown(<Settle block={asking} question={question} time={time} />));
    expect(said).toContain(
      "Was this block irrigated between Sun 12 July 06:10 and Mon 13 July 06:10?",
    );
    expect(said).toContain("Log 22.4 mm");
    expect(said).toContain("Add rain");
    expect(said).toContain("review sensors");
    expect(said).toContain("check the soil by hand before you put off an irrigation");
  });

  it("asks about logged water that did not show", () => {
    const missing = { ...question, kind: "water_did_not_come" } as const;
    const said = text(shown(<Settle block={asking} question={missing} time={time} />));
    expect(said).toContain("Did the irrigation logged between");
    expect(said).toContain("Correct the log");
    expect(said).not.toContain("Log 22.4 mm");
    expect(said).toContain("treat the block as not irrigated");
  });

  it("stands in the answer before its reasons", () => {
    const asked = { ...answer, question, reasons: ["water_not_logged", "no_et"] as Reason[] };
    const said = text(
      shown(<Answer block={{ ...asking, answer: asked, holds: [] }} time={time} />),
    );
    expect(said.indexOf("Did this block get water")).toBeLessThan(said.indexOf("No ET is known"));
    expect(said).not.toContain("Readings show water");
  });
});
