/** Words that fit into so many letters: whole words where there are several, and nothing where not
 * even the first one fits. */
export function cut(text: string, letters: number): string {
  if (text.length <= letters) return text;
  const words = text.split(" ");
  let kept = "";
  for (const word of words) {
    const next = kept ? `${kept} ${word}` : word;
    if (next.length + 1 > letters) break;
    kept = next;
  }
  const trimmed = kept.replace(/ ·$/, "");
  return trimmed ? `${trimmed}…` : "";
}
