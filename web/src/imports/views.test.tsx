import { describe, expect, test } from "vitest";
import { shown, text, type Known } from "../testing/shown";
import { FarmTime } from "../time/farmTime";
import { CheckReport } from "./CheckReport";
import { FileList } from "./FileList";
import { FileTable } from "./FileTable";
import { KeyTable } from "./KeyTable";
import { LayoutFields } from "./LayoutFields";
import type { ReadDetail, FileImport, FileReport, Layout, Preview, Sensor } from "./queries";

const nothing = () => undefined;
const time = new FarmTime("2026-07-14T04:10:00Z", "CET");
const SENSORS: Sensor[] = [100, 200].map((depth_mm, k) => ({
  channel_id: 7 + k,
  instrument_id: 1,
  block: "Quern Field",
  instrument: "Probe Q1",
  kind: "capacitance_probe",
  quantity: "theta",
  depth_mm,
  units: ["m3/m3", "%"],
}));
const LAYOUT: Layout = {
  sheet: "",
  encoding: "utf-8-sig",
  delimiter: ";",
  data_from: 2,
  decimal_comma: true,
  time_column: 0,
  time_of_day_column: null,
  time_order: "dmy",
  clock: "farm",
  shape: "wide",
  columns: [{ column: 1, channel_id: 7, unit: "%" }],
  value_column: null,
  key_columns: [],
  keys: [],
  missing: [],
};
const PREVIEW: Preview = {
  heading: ["when", "10 cm"],
  width: 2,
  rows: [
    { line: 1, cells: ["when", "10 cm"] },
    { line: 2, cells: ["14.07.2026 06:00", "24,1"] },
    { line: 3, cells: ["14.07.2026 06:15", "wet"] },
  ],
  understood: [
    { line: 2, time: "2026-07-14T04:00:00Z", values: { "7": 24.1 } },
    { line: 3, time: "2026-07-14T04:15:00Z", values: {} },
  ],
  keys: [],
  sampled: 2,
  readings: 1,
  gaps: 0,
  refused_count: 1,
  refused: [{ row: 3, column: "10 cm", value: "wet", reason: "This is not a number." }],
};
const REPORT: FileReport = {
  rows: 3001,
  readings: 2999,
  new: 2990,
  changed: 4,
  unchanged: 5,
  gaps: 12,
  repeated: 1,
  refused_count: 700,
  left_out: { "Q | 20": 42 },
  channels: [
    {
      channel_id: 7,
      readings: 2999,
      new: 2990,
      changed: 4,
      first: "2026-06-01T00:00:00Z",
      last: "2026-07-01T00:00:00Z",
      low: 18.25,
      high: 41.309999,
    },
  ],
};
const SUMMARY: FileImport = {
  id: 3,
  file_name: "carr.csv",
  size: 1000,
  state: "checked",
  made_at: "2026-07-14T04:00:00Z",
  made_by: "Maud",
  done: 0,
  total: 0,
  problem: "",
  batch: null,
  report: REPORT,
};
const BENCH: ReadDetail = {
  summary: SUMMARY,
  layout: LAYOUT,
  instrument: 1,
  sheets: [],
  preview: PREVIEW,
  refused: PREVIEW.refused,
  saved_layout: null,
};

const fileTable = (layout: Layout, fixed = false) => (
  <FileTable
    layout={layout}
    preview={PREVIEW}
    sensors={SENSORS}
    time={time}
    change={nothing}
    fixed={fixed}
  />
);

describe("the file's first rows", () => {
  test("each cell with what it is taken to say, by the farm's clock", () => {
    const said = text(fileTable(LAYOUT));
    expect(said).toContain("14.07.2026 06:00 Tue 14 July 06:00");
    expect(said).toContain("24,1 24.1 %");
    expect(said).toContain("wet This is not a number.");
  });

  test("a column that is not used says nothing", () => {
    expect(text(fileTable({ ...LAYOUT, columns: [] }))).not.toContain("24.1 %");
  });

  test("every column can be named by a reader of screens, and rests when it is over", () => {
    const markup = shown(fileTable(LAYOUT, true));
    expect(markup).toContain('aria-label="Column B holds"');
    expect(markup).toContain('aria-label="Unit of column B"');
    expect(markup.match(/<select[^>]*disabled/g)?.length).toBe(3);
  });

  test("in a long file a reading bears its sensor's unit", () => {
    const long: Layout = {
      ...LAYOUT,
      shape: "long",
      columns: [],
      value_column: 1,
      key_columns: [0],
      keys: [{ key: "S", channel_id: 7, unit: "%" }],
    };
    expect(text(fileTable(long))).toContain("24,1 24.1 %");
  });
});

const checkReport = (change: Partial<FileReport> = {}) =>
  text(
    <CheckReport detail={BENCH} report={{ ...REPORT, ...change }} sensors={SENSORS} time={time} />,
  );

describe("what a check found", () => {
  test("counts, by sensor with its range and span", () => {
    const said = checkReport();
    expect(said).toContain("3,001 rows hold 2,999 readings: 2,990 new");
    expect(said).toContain(
      "4 differ from the readings stored before (the earlier values are kept)",
    );
    expect(said).toContain("12 cells hold no reading");
    expect(said).toContain("10 cm, Probe Q1, Quern Field 2,990 4 18.25 to 41.31 %");
    expect(said).toContain("Mon 1 June 02:00 to Wed 1 July 02:00");
  });

  test("what stays out is named", () => {
    const said = checkReport();
    expect(said).toContain(
      "700 rejected; they are not imported. row 3 10 cm wet This is not a number.",
    );
    expect(said).toContain("Q | 20 (42 rows)");
    expect(checkReport({ refused_count: 0, left_out: {} })).not.toContain("stay out");
  });
});

test("names of a long file, given or left out", () => {
  const long: Layout = {
    ...LAYOUT,
    shape: "long",
    columns: [],
    key_columns: [1],
    keys: [{ key: "S1", channel_id: 8, unit: "m3/m3" }],
  };
  const markup = shown(
    <KeyTable
      layout={long}
      preview={{ ...PREVIEW, keys: ["S1", "S2"] }}
      leftOut={{ S3: 9 }}
      sensors={SENSORS}
      change={nothing}
      fixed={false}
    />,
  );
  for (const key of ["S1", "S2", "S3"]) expect(markup).toContain(`aria-label="${key} stands for"`);
  expect(markup).toContain('aria-label="Unit of S1"');
  expect(markup).not.toContain('aria-label="Unit of S2"');
});

const layoutFields = (layout: Layout, sheets: string[] = []) =>
  text(
    <LayoutFields
      layout={layout}
      sheets={sheets}
      zone="CET"
      problems={{ clock: "No such clock." }}
      change={nothing}
      fixed={false}
    />,
  );

test("how a file is written: a sheet instead of a mark, an offset only where it stands still", () => {
  expect(layoutFields(LAYOUT)).toContain("Between columns");
  expect(layoutFields(LAYOUT)).toContain("the farm's (CET)");
  expect(layoutFields(LAYOUT)).toContain("No such clock.");
  expect(layoutFields(LAYOUT)).not.toContain("+05:00");
  expect(layoutFields({ ...LAYOUT, clock: "+05:00" })).toContain("+05:00");
  expect(layoutFields(LAYOUT, ["July"])).toContain("Sheet July");
});

test("the list of files says how each stands", () => {
  const known: Known = [
    [["farm", "f", "clock"], { now: "2026-07-14T04:10:00Z", time_zone: "CET" }],
    [
      ["farm", "f", "imports"],
      [
        SUMMARY,
        { ...SUMMARY, id: 4, state: "failed", problem: "broke", report: null },
        { ...SUMMARY, id: 5, state: "failed", problem: "broke" },
        { ...SUMMARY, id: 6, state: "reading", report: null },
      ],
    ],
  ];
  const said = text(<FileList />, "metric", true, known);
  expect(said).toContain("carr.csv checked, not imported Maud 2,990 4 700");
  expect(said).toContain("could not be read Maud – – –");
  expect(said).toContain("failed Maud 2,990 4 700");
  expect(said).toContain("reading the first rows Maud – – –");
  expect(said).toContain("Import a file");
  expect(text(<FileList />, "metric", false, known)).not.toContain("Import a file");
  const none: Known = [known[0] as Known[number], [["farm", "f", "imports"], []]];
  expect(text(<FileList />, "metric", true, none)).toContain("No file has been imported yet.");
});
