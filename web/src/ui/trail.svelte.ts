/** Where one is, for the head of the page and the title of the window. */
export type Crumb = { name: string; href?: string };

class Trail {
	crumbs = $state.raw<Crumb[]>([]);
	/** The recording that a search looks in first. */
	recordingId = $state<number | null>(null);

	set(crumbs: Crumb[], recordingId: number | null = null): void {
		this.crumbs = crumbs;
		this.recordingId = recordingId;
		document.title = [...crumbs.map((one) => one.name).reverse(), 'Nimble Quote'].join(' · ');
	}
}

export const trail = new Trail();
