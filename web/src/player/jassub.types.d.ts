/** What is used of the caption renderer; its own types point at a file that it does not ship. */
export default class JASSUB {
	constructor(options: {
		canvas: HTMLCanvasElement;
		subContent: string;
		fonts: string[];
		queryFonts: false;
		defaultFont: string;
		prescaleFactor?: number;
	});
	ready: Promise<void>;
	renderer: { setTrack(script: string): Promise<void> };
	manualRender(
		data: { expectedDisplayTime: number; width: number; height: number; mediaTime: number },
		repaint?: boolean
	): Promise<void>;
	destroy(): Promise<void>;
}
