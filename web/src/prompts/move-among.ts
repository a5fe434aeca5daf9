const STEPS: Record<string, number> = { ArrowDown: 1, ArrowUp: -1 };

/** Arrow keys move among the search field and the choices below it. */
export function moveAmong(list: HTMLElement | null, event: KeyboardEvent): void {
  const step = STEPS[event.key];
  if (!step) return;
  event.preventDefault();
  const stops = [...(list?.querySelectorAll<HTMLElement>('input, [role=option]') ?? [])];
  const at = stops.indexOf(document.activeElement as HTMLElement);
  stops[Math.max(0, Math.min(stops.length - 1, at + step))]?.focus();
}
