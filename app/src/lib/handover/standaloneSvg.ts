import { PAPER_INKS } from './documentHtml';

/** A picture with the inks of the day paper in it. */
export const standalone = (svg: string): string =>
  svg.replace(/(<svg[^>]*>)/, `$1<style>${PAPER_INKS}</style><rect width="100%" height="100%" fill="var(--paper)"/>`);
