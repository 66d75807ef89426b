/** Asks a server and notes what fails: an answer of 5xx that is not "too busy", or none at all. */
export function client(origin) {
  const failures = [];
  const ask = async (path, init) => {
    try {
      const answer = await fetch(origin + path, init);
      await answer.arrayBuffer();
      if (answer.status >= 500 && answer.status !== 503) failures.push(`${answer.status} ${path}`);
      return answer.status;
    } catch (error) {
      failures.push(`${path}: ${error.cause?.message ?? error.message}`);
      return 0;
    }
  };
  return { ask, failures };
}
