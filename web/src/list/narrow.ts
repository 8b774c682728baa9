/* Which rows of a list are shown, and under which headings. */

/** A column by whose values a list can be narrowed or put in groups. */
export interface Facet<Row> {
  label: string;
  /** What stands for any value. */
  every: string;
  of: (row: Row) => string;
  /** The value in words, where the rows have it by another name. */
  words?: (value: string) => string;
}

export interface Wanted {
  find: string;
  /** By a facet's label; "" for every value. */
  values: Record<string, string>;
}

/** Rows whose text holds every word, and which have the values asked for. */
export function fitting<Row>(
  rows: readonly Row[],
  wanted: Wanted,
  text: (row: Row) => string,
  facets: readonly Facet<Row>[],
): Row[] {
  const words = wanted.find.trim().toLowerCase().split(/\s+/).filter(Boolean);
  return rows.filter((row) => {
    const all = text(row).toLowerCase();
    return (
      words.every((word) => all.includes(word)) &&
      facets.every((f) => !wanted.values[f.label] || f.of(row) === wanted.values[f.label])
    );
  });
}

/** The different values of a facet, in the order of their words. */
export function valuesOf<Row>(rows: readonly Row[], facet: Facet<Row>): string[] {
  const words = facet.words ?? ((value: string) => value);
  return [...new Set(rows.map(facet.of))].toSorted((a, b) => words(a).localeCompare(words(b)));
}

export interface Group<Row> {
  /** Empty where there are no groups. */
  name: string;
  rows: Row[];
}

/** Rows in groups by a facet, in the order they came. */
export function grouped<Row>(rows: Row[], facet: Facet<Row> | undefined): Group<Row>[] {
  if (!facet) return [{ name: "", rows }];
  const words = facet.words ?? ((value: string) => value);
  return valuesOf(rows, facet).map((value) => ({
    name: words(value),
    rows: rows.filter((row) => facet.of(row) === value),
  }));
}
