import { asDocument } from '$lib/pictures/asDocument.svelte';
import { saveAs } from '$lib/plots/figuresOut';
import { svgAsPng } from '$lib/plots/picture';

/** Pictures within a part of a page: what each shows, and it as a document of its own. */
export const picturesOf = (part: HTMLElement | undefined): Promise<{ says: string; text: string }[]> =>
  asDocument(async () =>
    [...(part?.querySelectorAll<SVGSVGElement>('svg[role="img"]') ?? [])].map((picture) => ({
      says: picture.getAttribute('aria-label') ?? 'picture',
      text: pictureText(picture),
    })),
  );

/** Gives each picture within a part of the page to the browser as a file. @param about  what they are of, in the file's name */
export async function savePictures(part: HTMLElement | undefined, about: string, as: 'svg' | 'png'): Promise<void> {
  for (const { says, text } of await picturesOf(part)) {
    const name = `${about}_${says.slice(0, 40)}`.replaceAll(/[^\w-]+/g, '_');
    saveAs(as === 'png' ? await svgAsPng(text) : new Blob([text], { type: 'image/svg+xml' }), `${name}.${as}`);
  }
}

/** What of a style a picture needs to look the same elsewhere. */
const LOOKS = ['fill', 'stroke', 'stroke-width', 'stroke-dasharray', 'font-size', 'font-style', 'font-family'] as const;

/** A picture of the page as a file of its own: what its styles say is written into it. */
function pictureText(picture: SVGSVGElement): string {
  const copy = picture.cloneNode(true) as SVGSVGElement;
  const parts = [...picture.querySelectorAll('*')];
  [...copy.querySelectorAll('*')].forEach((part, at) => {
    const style = getComputedStyle(parts[at]);
    for (const name of LOOKS) part.setAttribute(name, style.getPropertyValue(name));
    part.removeAttribute('class');
  });
  copy.setAttribute('xmlns', 'http://www.w3.org/2000/svg');
  copy.setAttribute('style', `background: ${getComputedStyle(document.body).backgroundColor}`);
  return new XMLSerializer().serializeToString(copy);
}
