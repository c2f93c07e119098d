/** A question that the server has no room for at once is asked again when it says so. */
const MOST_TIMES = 3;
const LONGEST_S = 5;

const pause = (seconds: number, signal: AbortSignal): Promise<void> =>
  new Promise((resolve, reject) => {
    const timer = setTimeout(resolve, seconds * 1000);
    signal.addEventListener("abort", () => {
      clearTimeout(timer);
      reject(new DOMException("nobody waits for it", "AbortError"));
    });
  });

/** Fetch; where it is busy, again after as long as it asks for. What is kept has an outbox of its own. */
export async function patiently(request: Request): Promise<Response> {
  for (let times = 1; ; times++) {
    const asked = request.clone();
    const response = await fetch(asked);
    const after = Number(response.headers.get("retry-after") ?? Infinity);
    const kept = request.headers.has("idempotency-key");
    if (response.status !== 503 || kept || after > LONGEST_S || times === MOST_TIMES)
      return response;
    await pause(after, request.signal);
  }
}
