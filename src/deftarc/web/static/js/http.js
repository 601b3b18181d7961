// How the page speaks to its server, apart from the socket: one place that knows headers and what a refusal looks like.

// A JSON body is sent as one. Answers { ok, status, answer }, where `answer` is what came back, read.
export async function http(path, { method = "GET", json = undefined, form = undefined, as = "json" } = {}) {
  const headers = json === undefined ? {} : { "content-type": "application/json" };
  const body = json === undefined ? form : JSON.stringify(json);
  const response = await fetch(path, { method, headers, body });
  const reads = { json: () => response.json(), text: () => response.text(), bytes: () => response.arrayBuffer() };
  const answer = response.ok
    ? await reads[as]()
    : await response.json().catch(() => ({ detail: "The server did not answer. Try again." }));
  return { ok: response.ok, status: response.status, answer };
}
