/** Drawing what an Assembly shows of a video picture onto a canvas of any size, as the renderer makes it. */
import type { Assembly } from '$api/client';

const small = typeof document === 'undefined' ? null : document.createElement('canvas');

export function drawShape(pen: CanvasRenderingContext2D, video: HTMLVideoElement, assembly: Assembly, size: { width: number; height: number }, larger = 1): void {
	const { width, height } = size;
	const placed = assembly.picture;
	if (!placed || !video.videoWidth) {
		pen.fillStyle = assembly.framing.colour ?? 'black';
		pen.fillRect(0, 0, width, height);
		return;
	}
	const scale = width / assembly.destination.width;
	const box = { x: placed.x_px * scale, y: placed.y_px * scale, width: placed.width_px * scale, height: placed.height_px * scale };
	if (larger !== 1) {
		pen.save();
		pen.translate(width / 2, height / 2);
		pen.scale(larger, larger);
		pen.translate(-width / 2, -height / 2);
	}
	if (box.width < width - 0.5 || box.height < height - 0.5) drawBackdrop(pen, video, assembly, size);
	const { window } = placed;
	pen.drawImage(
		video,
		window.x * video.videoWidth, window.y * video.videoHeight,
		window.width * video.videoWidth, window.height * video.videoHeight,
		box.x, box.y, box.width, box.height
	);
	if (larger !== 1) pen.restore();
}

function drawBackdrop(pen: CanvasRenderingContext2D, video: HTMLVideoElement, assembly: Assembly, size: { width: number; height: number }): void {
	const { width, height } = size;
	if (assembly.framing.backdrop === 'colour' || !small) {
		pen.fillStyle = assembly.framing.colour ?? 'black';
		pen.fillRect(0, 0, width, height);
		return;
	}
	// The same small size and blur as the renderer's, so that the backdrops agree.
	const shrink = 136 / Math.min(assembly.destination.width, assembly.destination.height);
	small.width = Math.round((assembly.destination.width * shrink) / 2) * 2;
	small.height = Math.round((assembly.destination.height * shrink) / 2) * 2;
	const soft = small.getContext('2d');
	if (!soft) return;
	const cover = Math.max(small.width / video.videoWidth, small.height / video.videoHeight);
	const across = video.videoWidth * cover;
	const down = video.videoHeight * cover;
	soft.filter = 'blur(5px)';
	soft.drawImage(video, (small.width - across) / 2, (small.height - down) / 2, across, down);
	pen.drawImage(small, 0, 0, width, height);
}
