import { expect, test } from "vitest";
import type { Layout, Preview, Sensor } from "./queries";
import { letter, refusedAt, roleOf, withKey, withRole, withUnit } from "./roles";

const WIDE: Layout = {
  sheet: "",
  encoding: "utf-8-sig",
  delimiter: ",",
  data_from: 2,
  decimal_comma: false,
  time_column: 0,
  time_of_day_column: null,
  time_order: "ymd",
  clock: "farm",
  shape: "wide",
  columns: [{ column: 1, channel_id: 7, unit: "%" }],
  value_column: null,
  key_columns: [],
  keys: [],
  missing: [],
};
const sensor = (channel_id: number, units: Sensor["units"]): Sensor => ({
  channel_id,
  instrument_id: 1,
  block: "B",
  instrument: "P",
  kind: "capacitance_probe",
  quantity: "theta",
  depth_mm: 100,
  units,
});
const SENSORS = [sensor(7, ["m3/m3", "%"]), sensor(8, ["m3/m3", "%"]), sensor(9, ["kPa", "cbar"])];

test("roles of columns", () => {
  expect([0, 1, 2].map((k) => roleOf(WIDE, k))).toEqual(["time", "sensor:7", ""]);
  const long: Layout = { ...WIDE, shape: "long", value_column: 3, key_columns: [1, 2] };
  expect([0, 1, 2, 3].map((k) => roleOf(long, k))).toEqual(["time", "key", "key", "value"]);
});

test("a column given to a sensor takes the unit of its neighbours", () => {
  const next = withRole(WIDE, 2, "sensor:8", SENSORS);
  expect(next.columns).toContainEqual({ column: 2, channel_id: 8, unit: "%" });
  // Unless that sensor can't be written in it.
  expect(withRole(WIDE, 2, "sensor:9", SENSORS).columns.at(-1)?.unit).toBe("kPa");
});

test("a sensor has one column, a column one use", () => {
  const moved = withRole(WIDE, 2, "sensor:7", SENSORS);
  expect(moved.columns).toEqual([{ column: 2, channel_id: 7, unit: "%" }]);
  expect(withRole(WIDE, 1, "clock", SENSORS)).toMatchObject({
    columns: [],
    time_of_day_column: 1,
  });
  expect(withRole(WIDE, 1, "", SENSORS).columns).toEqual([]);
});

test("names of a long file are given anew when their columns change", () => {
  const long: Layout = {
    ...WIDE,
    shape: "long",
    columns: [],
    value_column: 3,
    key_columns: [1],
    keys: [{ key: "S1", channel_id: 7, unit: "m3/m3" }],
  };
  expect(withRole(long, 2, "key", SENSORS)).toMatchObject({ key_columns: [1, 2], keys: [] });
  const two = withKey(long, "S2", 8, SENSORS);
  expect(two.keys.at(-1)).toEqual({ key: "S2", channel_id: 8, unit: "m3/m3" });
  expect(withKey(two, "S1", 0, SENSORS).keys.map((k) => k.key)).toEqual(["S2"]);
});

test("units, letters, refused cells", () => {
  expect(withUnit(WIDE, 1, "m3/m3").columns[0]?.unit).toBe("m3/m3");
  expect([0, 25, 26, 51, 52].map(letter)).toEqual(["A", "Z", "AA", "AZ", "BA"]);
  const preview = {
    refused: [{ row: 3, column: "10 cm", value: "wet", reason: "no number" }],
  } as unknown as Preview;
  expect(refusedAt(preview).get("3|10 cm")).toBe("no number");
});
