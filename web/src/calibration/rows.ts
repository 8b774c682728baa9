/* The worksheet as typed: text in every cell, numbers only where all of a row are there. */
import type { Sample } from "./queries";

export const COLUMNS = ["raw", "wet_g", "dry_g", "tare_g", "volume_ml"] as const;
export type Column = (typeof COLUMNS)[number];
export type Row = Record<Column, string>;

export const EMPTY: Row = { raw: "", wet_g: "", dry_g: "", tare_g: "", volume_ml: "" };

export function cell(text: string): number | null {
  const cleaned = text.trim().replace(",", ".");
  const value = Number(cleaned);
  return cleaned === "" || !Number.isFinite(value) ? null : value;
}

/** Rows that are whole, with the place each has in the worksheet. */
export function wholeRows(rows: Row[]): { place: number; sample: Sample }[] {
  return rows.flatMap((row, place) => {
    const values = COLUMNS.map((c) => cell(row[c]));
    if (values.some((v) => v === null)) return [];
    const [raw, wet_g, dry_g, tare_g, volume_ml] = values as [
      number,
      number,
      number,
      number,
      number,
    ];
    return [{ place, sample: { raw, wet_g, dry_g, tare_g, volume_ml } }];
  });
}

export function typedRow(sample: Sample): Row {
  return {
    raw: String(sample.raw),
    wet_g: String(sample.wet_g),
    dry_g: String(sample.dry_g),
    tare_g: String(sample.tare_g),
    volume_ml: String(sample.volume_ml),
  };
}

/** A new container starts with the tare and volume of the one before: tins come in sets. */
export function nextRow(rows: Row[]): Row {
  const last = rows.at(-1);
  return { ...EMPTY, tare_g: last?.tare_g ?? "", volume_ml: last?.volume_ml ?? "" };
}

/** The worksheet as the bench takes it in again, whole rows only. */
export function sheetCsv(rows: Row[]): string {
  const lines = wholeRows(rows).map(({ sample }) => COLUMNS.map((c) => sample[c]).join(","));
  return [COLUMNS.join(","), ...lines, ""].join("\n");
}
