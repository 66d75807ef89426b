import type { KeptPage } from '$lib/api/pages';
import { addressOf as comparedAt } from '$lib/compare/compareAddress';
import { addressOf as examinedAt } from '$lib/examine/examineAddress';
import { addressOf as projectedAt } from '$lib/project/projectAddress';
import { addressOf as rolledAt } from '$lib/roll/rollAddress';
import { ledgerChoices } from '$lib/server/http/ledgers';
import { pageChoices } from '$lib/server/http/pages';

/** A page of our own, and nothing else, may stand in a frame. */
const OURS = /^\/(?:ledger\/\d{1,15}|(?:examine|project|compare|roll)\?[^#]*)$/;

/** Two pages, by `left` and `right`; the ledgers that were saved last where the address does not say. */
export async function load({ locals, url }) {
  const [kept, all] = await locals.store.read(async (rows) => [
    await pageChoices(rows, locals),
    await ledgerChoices(rows, locals),
  ]);
  const choices = [
    ...all.map(({ id, title }) => ({ says: title, address: `/ledger/${id}` })),
    ...kept.map((page) => ({ says: page.title, address: addressOf(page) })),
  ];
  const asked = (side: string) => {
    const address = url.searchParams.get(side);
    return address !== null && OURS.test(address) ? address : undefined;
  };
  return {
    choices,
    left: asked('left') ?? choices[0]?.address ?? '',
    right: asked('right') ?? choices[1]?.address ?? '',
  };
}

function addressOf({ id, body }: KeptPage): string {
  switch (body.page) {
    case 'examine':
      return examinedAt(body, id);
    case 'project':
      return projectedAt(body, id);
    case 'compare':
      return comparedAt(body, id);
    case 'roll':
      return rolledAt(body, id);
  }
}
