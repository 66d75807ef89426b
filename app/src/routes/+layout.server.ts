/** Who reads the book; nobody in particular where no token is asked for. */
export const load = ({ locals: { gate, who, access } }) => ({ visitor: gate.isShut ? { who, access } : undefined });
