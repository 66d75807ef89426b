/** The page is drawn from columns that only the browser has. */
export const ssr = false;

// with a page of its own kind of loading the server's data are handed through
export const load = ({ data }) => data;
