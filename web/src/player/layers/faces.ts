/** Where the file of a face is: those that ship with the application, those of the house's by themselves. */
import type { Face } from '$api/client';

export const faceUrl = (face: Face): string => (face.own ? `/api/house/faces/${face.file}` : `/fonts/${face.file}`);
