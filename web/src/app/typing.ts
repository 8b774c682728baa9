/** Whether a key goes into a field, so that it is no command. */
export function isTyping(event: KeyboardEvent): boolean {
  if (event.ctrlKey || event.metaKey || event.altKey) return true;
  const { target } = event;
  if (target instanceof HTMLInputElement) return !["radio", "checkbox"].includes(target.type);
  return target instanceof HTMLSelectElement || target instanceof HTMLTextAreaElement;
}
