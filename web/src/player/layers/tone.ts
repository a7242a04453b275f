/** Tone: the colours of a picture changed by a shader, as the renderer changes them in the clip. */
import type { Picture, Run } from './panels';

export type Tone = NonNullable<Run['tone']>;

const PLACE = `#version 300 es
out vec2 at;
void main() {
	vec2 corner = vec2(float(gl_VertexID & 1), float(gl_VertexID >> 1));
	at = vec2(corner.x, 1.0 - corner.y);
	gl_Position = vec4(corner * 2.0 - 1.0, 0.0, 1.0);
}`;
/** In luma and chroma of BT.709, as clips are coded. */
const COLOUR = `#version 300 es
precision highp float;
in vec2 at;
out vec4 colour;
uniform sampler2D picture;
uniform float power, odds, chroma, blue, red;
void main() {
	vec3 rgb = texture(picture, at).rgb;
	float light = clamp(dot(rgb, vec3(0.2126, 0.7152, 0.0722)), 0.0, 1.0);
	float cb = (rgb.b - light) / 1.8556 * chroma + blue;
	float cr = (rgb.r - light) / 1.5748 * chroma + red;
	float up = odds * pow(light, power);
	float luma = up / (up + pow(1.0 - light, power));
	cb = clamp(cb, -0.5, 0.5);
	cr = clamp(cr, -0.5, 0.5);
	float r = luma + 1.5748 * cr;
	float b = luma + 1.8556 * cb;
	colour = vec4(r, (luma - 0.2126 * r - 0.0722 * b) / 0.7152, b, 1.0);
}`;
const NAMES = ['power', 'odds', 'chroma', 'blue', 'red'] as const;

type Places = Record<(typeof NAMES)[number], WebGLUniformLocation | null>;

/** Changes colours on a canvas of its own. */
class Toner {
	readonly canvas: HTMLCanvasElement;
	#gl: WebGL2RenderingContext;
	#places: Places;

	constructor(gl: WebGL2RenderingContext, canvas: HTMLCanvasElement) {
		this.canvas = canvas;
		this.#gl = gl;
		const program = gl.createProgram();
		for (const [kind, source] of [[gl.VERTEX_SHADER, PLACE], [gl.FRAGMENT_SHADER, COLOUR]] as const) {
			const shader = gl.createShader(kind)!;
			gl.shaderSource(shader, source);
			gl.compileShader(shader);
			gl.attachShader(program, shader);
		}
		gl.linkProgram(program);
		gl.useProgram(program);
		gl.bindTexture(gl.TEXTURE_2D, gl.createTexture());
		for (const side of [gl.TEXTURE_WRAP_S, gl.TEXTURE_WRAP_T]) gl.texParameteri(gl.TEXTURE_2D, side, gl.CLAMP_TO_EDGE);
		for (const way of [gl.TEXTURE_MIN_FILTER, gl.TEXTURE_MAG_FILTER]) gl.texParameteri(gl.TEXTURE_2D, way, gl.NEAREST);
		this.#places = Object.fromEntries(NAMES.map((name) => [name, gl.getUniformLocation(program, name)])) as Places;
	}

	draw(picture: Picture, tone: Tone): void {
		const gl = this.#gl;
		const { canvas } = this;
		if (canvas.width !== picture.width || canvas.height !== picture.height) {
			canvas.width = picture.width;
			canvas.height = picture.height;
			gl.viewport(0, 0, canvas.width, canvas.height);
		}
		for (const name of NAMES) gl.uniform1f(this.#places[name], tone[name]);
		gl.texImage2D(gl.TEXTURE_2D, 0, gl.RGB, gl.RGB, gl.UNSIGNED_BYTE, picture.image as TexImageSource);
		gl.drawArrays(gl.TRIANGLE_STRIP, 0, 4);
	}
}

/** None where the browser has no such drawing: the picture is shown as it is then. */
let toner: Toner | null | undefined;

function theToner(): Toner | null {
	if (toner === undefined || toner?.canvas.dataset.lost) {
		const canvas = document.createElement('canvas');
		const gl = canvas.getContext('webgl2', { alpha: false, antialias: false, depth: false });
		canvas.addEventListener('webglcontextlost', () => (canvas.dataset.lost = 'true'));
		toner = gl ? new Toner(gl, canvas) : null;
	}
	return toner;
}

export function changes(tone: Tone | undefined): tone is Tone {
	return tone !== undefined && (tone.power !== 1 || tone.odds !== 1 || tone.chroma !== 1 || tone.blue !== 0 || tone.red !== 0);
}

/** A picture in a tone. What it gives is drawn before anything else is asked of it. */
export function toned(picture: Picture, tone: Tone | undefined): Picture {
	const made = changes(tone) ? theToner() : null;
	if (!made) return picture;
	made.draw(picture, tone as Tone);
	return { ...picture, image: made.canvas };
}
