// Outlines as paths: as they are at a frame, and what of them is drawn between two places. Numbers as docs/format.md has them.

// The verbs and numbers of an outline at a frame.
export function outlineAt(outline, frame) {
  if (!outline.sizes) {
    const row = Math.min(frame, outline.rows - 1) * outline.wide;
    return { verbs: outline.verbs, numbers: outline.numbers.subarray(row, row + outline.wide) };
  }
  const k = Math.min(frame, outline.sizes.length - 1);
  if (!outline.starts) {
    let at = 0;
    outline.starts = outline.sizes.map((size) => {
      at += size;
      return at - size;
    });
  }
  const start = outline.starts[k];
  return { verbs: outline.verbs[k], numbers: outline.numbers.subarray(start, start + outline.sizes[k]) };
}

const COUNTS = { M: 2, L: 2, C: 6, Z: 0 };

export function traced({ verbs, numbers: at }) {
  const path = new Path2D();
  let n = 0;
  for (const verb of verbs) {
    if (verb === "M") path.moveTo(at[n], at[n + 1]);
    else if (verb === "L") path.lineTo(at[n], at[n + 1]);
    else if (verb === "C") path.bezierCurveTo(at[n], at[n + 1], at[n + 2], at[n + 3], at[n + 4], at[n + 5]);
    else path.closePath();
    n += COUNTS[verb];
  }
  return path;
}

// Path data as verbs and numbers.
export function parsed(data) {
  const numbers = [];
  let verbs = "";
  for (const token of data.match(/[MLCZ]|-?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?/gi) || []) {
    if (/[MLCZ]/.test(token)) verbs += token;
    else numbers.push(Number(token));
  }
  return { verbs, numbers };
}

const same = (row) => row.slice(2).every((x, k) => x === row[k % 2]);

// An outline's contours as spans of eight numbers each; what has no length is left out.
function contours({ verbs, numbers: at }) {
  const out = [];
  let spans = [];
  let [start, last] = [
    [0, 0],
    [0, 0],
  ];
  let n = 0;
  const done = (closed) => {
    if (spans.length) out.push({ spans, closed });
    spans = [];
  };
  /** @param {number[]} to */
  const line = ([x, y]) => {
    const [dx, dy] = [(x - last[0]) / 3, (y - last[1]) / 3];
    const row = [...last, last[0] + dx, last[1] + dy, x - dx, y - dy, x, y];
    if (x !== last[0] || y !== last[1]) spans.push({ row, bent: false });
  };
  for (const verb of verbs) {
    const to = [...at.slice(n, n + COUNTS[verb])];
    n += COUNTS[verb];
    if (verb === "M") {
      done(false);
      start = to;
      last = to;
    } else if (verb === "L") {
      line(to);
      last = to;
    } else if (verb === "C") {
      const row = [...last, ...to];
      if (!same(row)) spans.push({ row, bent: true });
      last = to.slice(4);
    } else {
      line(start);
      done(true);
      last = start;
    }
  }
  done(false);
  return out;
}

// A cubic between two of its parameters.
function part(row, a, b) {
  if (a <= 0 && b >= 1) return row;
  const blossom = (u, v, w) => {
    let points = [0, 1, 2, 3].map((k) => [row[2 * k], row[2 * k + 1]]);
    for (const t of [u, v, w])
      points = points
        .slice(1)
        .map((p, k) => [points[k][0] + (p[0] - points[k][0]) * t, points[k][1] + (p[1] - points[k][1]) * t]);
    return points[0];
  };
  return [blossom(a, a, a), blossom(a, a, b), blossom(a, b, b), blossom(b, b, b)].flat();
}

// The spans between two places of a contour, told in spans.
function between(spans, start, end) {
  const last = Math.ceil(end) - 1;
  const first = Math.min(Math.floor(start), last);
  return spans.slice(first, last + 1).map(({ row, bent }, k) => ({
    row: part(row, first + k === first ? start - first : 0, first + k === last ? end - last : 1),
    bent,
  }));
}

// What of an outline lies between the cuts of its contours, two places each.
export function drawnPart(outline, cuts) {
  const path = new Path2D();
  const add = (spans, closed = false) => {
    path.moveTo(spans[0].row[0], spans[0].row[1]);
    for (const { row, bent } of spans)
      if (bent) path.bezierCurveTo(row[2], row[3], row[4], row[5], row[6], row[7]);
      else path.lineTo(row[6], row[7]);
    if (closed) path.closePath();
  };
  contours(outline).forEach(({ spans, closed }, k) => {
    const [start, end] = [cuts[2 * k], cuts[2 * k + 1]];
    const count = spans.length;
    if (!(end > start)) return;
    if (end - start >= count) add(spans, closed);
    else if (end <= count) add(between(spans, start, end));
    else if (closed) add([...between(spans, start, count), ...between(spans, 0, end - count)]);
    else {
      add(between(spans, start, count));
      add(between(spans, 0, end - count));
    }
  });
  return path;
}
