/**
 * Runs one task at a time with the latest value asked for: while one is under way, newer values take
 * each other's place, so that they never queue up, and no answer arrives after a newer one.
 */
export function coalesced<T>(task: (value: T) => Promise<void>): (value: T) => void {
  let running = false;
  let waiting: { value: T } | null = null;
  const run = async (value: T) => {
    running = true;
    try {
      await task(value);
    } catch {
      // A preview that failed is followed by the next one; letting go tells what is wrong.
    }
    running = false;
    if (waiting) {
      const next = waiting.value;
      waiting = null;
      void run(next);
    }
  };
  return (value) => {
    if (running) waiting = { value };
    else void run(value);
  };
}
