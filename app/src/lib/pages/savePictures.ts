import { pictureText } from '$lib/examine/examineFiles';
import { saveAs } from '$lib/plots/figuresOut';
import { svgAsPng } from '$lib/plots/picture';

/** Gives each picture within a part of the page to the browser as a file. @param about  what they are of, in the file's name */
export async function savePictures(part: HTMLElement | undefined, about: string, as: 'svg' | 'png'): Promise<void> {
  for (const picture of part?.querySelectorAll<SVGSVGElement>('svg[role="img"]') ?? []) {
    const text = pictureText(picture);
    const says = (picture.getAttribute('aria-label') ?? 'picture').slice(0, 40);
    const name = `${about}_${says}`.replaceAll(/[^\w-]+/g, '_');
    saveAs(as === 'png' ? await svgAsPng(text) : new Blob([text], { type: 'image/svg+xml' }), `${name}.${as}`);
  }
}
