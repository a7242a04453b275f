/** Moving one of some things to another place among them. */
export function moved<T>(items: readonly T[], from: number, to: number): T[] {
	const rest = items.filter((_, i) => i !== from);
	const goal = Math.min(Math.max(0, to), rest.length);
	return from < 0 || from >= items.length ? [...items] : [...rest.slice(0, goal), items[from]!, ...rest.slice(goal)];
}
