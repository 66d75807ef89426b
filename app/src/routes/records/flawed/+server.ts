import { FLAWED_FILE_NAME, flawedFile } from '@jaunty-ledger/demo';

/** The small file with flaws, for trying the intake. */
export const GET = () =>
  new Response(flawedFile(), {
    headers: { 'content-type': 'text/csv', 'content-disposition': `attachment; filename="${FLAWED_FILE_NAME}"` },
  });
