import { PasswordChange } from '$lib/api/people';
import { changeOwnPassword } from '$lib/server/auth/account';
import { endpoint } from '$lib/server/http/endpoint';

export const PUT = endpoint(
  {
    says: "Changes one's own password. All sessions that were opened with the old one end.",
    body: PasswordChange,
    refuses: ['not-allowed'],
    writes: false,
  },
  ({ event, body }) => changeOwnPassword(event, body),
);
