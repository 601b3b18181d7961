// How the page speaks to its server, apart from the socket: one place that knows headers and what a refusal looks like.

// Shows that a request comes of this page, and of no form or frame of another one.
const page = /** @type {HTMLMetaElement} */ (document.querySelector("meta[name=deftarc-page]"))?.content ?? "";

let asked = 0;
const waiting = [];
// Resolves when everything that was asked for has been answered, and whoever asked went on with it.
export const allAnswered = () => (asked ? new Promise((done) => waiting.push(done)) : Promise.resolve());
export const isAsked = () => asked > 0;

// A JSON body is sent as one. Answers { ok, status, answer }, where `answer` is what came back, read.
export async function http(path, options = {}) {
  asked += 1;
  try {
    return await fetched(path, options);
  } finally {
    // Whoever waits for the page to settle goes on after what is done with the answer.
    setTimeout(() => {
      asked -= 1;
      if (!asked) for (const wake of waiting.splice(0)) wake();
    });
  }
}

async function fetched(path, { method = "GET", json = undefined, form = undefined, as = "json" }) {
  /** @type {Record<string, string>} */
  const headers = method === "GET" ? {} : { "x-deftarc-page": page };
  if (json !== undefined) headers["content-type"] = "application/json";
  const body = json === undefined ? form : JSON.stringify(json);
  const response = await fetch(path, { method, headers, body });
  // Done, with nothing to say: there is no JSON to read.
  if (response.status === 204) return { ok: true, status: 204, answer: null };
  const reads = { json: () => response.json(), text: () => response.text(), bytes: () => response.arrayBuffer() };
  const answer = response.ok
    ? await reads[as]()
    : await response.json().catch(() => ({ detail: "The server did not answer. Try again." }));
  return { ok: response.ok, status: response.status, answer };
}
