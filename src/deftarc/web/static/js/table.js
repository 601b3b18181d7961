// Reading packed answers: a JSON head, then float32 rows. Layout as in docs/format.md.
function opened(buffer) {
  const length = new DataView(buffer).getUint32(0, true);
  const head = JSON.parse(new TextDecoder().decode(new Uint8Array(buffer, 4, length)));
  let at = 4 + length;
  const take = (rows, wide) => {
    const part = new Float32Array(buffer, at, rows * wide);
    at += rows * wide * 4;
    return part;
  };
  const block = (told) => ({ ...told, numbers: take(told.rows, told.wide) });
  const read = (table) =>
    table.items.map((item) => {
      const numbers = take(item.rows, 7);
      const named = (list) => list && Object.fromEntries(list.map((told) => [told.name, block(told)]));
      const look = named(item.look);
      const effects = item.effects?.map((effect) => ({ ...effect, values: named(effect.values) }));
      const outline = item.outline && block(item.outline);
      const dots = item.dots && block(item.dots);
      const masks = item.masks?.map((mask) => ({ ...mask, values: named(mask.values), outline: block(mask.outline) }));
      return { ...item, numbers, look, effects, outline, dots, masks };
    });
  return { head, take, read };
}

export function unpack(buffer) {
  const { head, take, read } = opened(buffer);
  const items = head.table ? read(head.table) : [];
  const still = head.still ? { frame: head.still.first, items: read(head.still) } : null;
  const smear = head.smear ? { ...head.smear, items: read(head.smear) } : null;
  const columns = {};
  for (const column of head.columns || [])
    columns[column.name] = { ...column, numbers: take(column.rows, column.wide) };
  return { head, items, columns, still, smear };
}

// Try-outs: each candidate that could be made with its own table.
export function unpackCandidates(buffer) {
  const { head, read } = opened(buffer);
  for (const candidate of head.candidates) if (candidate.table) candidate.items = read(candidate.table);
  return head;
}

// A stretch of a scene's rings and particles, by the names of what shows them.
export function unpackDots(buffer) {
  const { head, take } = opened(buffer);
  for (const part of Object.values(head.dots)) part.numbers = take(part.rows, part.wide);
  return head;
}

// Seven numbers of an item at a frame: a b c d e f opacity. One row serves all frames where nothing changes.
export function rowAt(item, frame) {
  return item.numbers.subarray(Math.min(frame, item.rows - 1) * 7, Math.min(frame, item.rows - 1) * 7 + 7);
}

export const showsAt = (item, frame) => frame >= item.shows[0] && frame < item.shows[1];

export function columnAt(column, frame) {
  const row = Math.min(frame, column.rows - 1) * column.wide;
  return column.numbers.subarray(row, row + column.wide);
}

// Ends the name of what is drawn for a matte alone.
export const FOR_MATTE = "~";
// Under which name an item's drawing is known.
export const drawnAs = (layer) => layer.replaceAll(FOR_MATTE, "");

// Items of one table as a tree, from the bottom up: groups painted as one have their `parts`. What lies in a group that is
// not in the table stands by itself.
export function grown(items, roots) {
  const by = new Map(items.map((item) => [item.layer, item]));
  const placed = new Set();
  const build = (id) => {
    const item = by.get(id);
    if (!item) return null;
    placed.add(id);
    const made = item.children ? { ...item, parts: item.children.map(build).filter(Boolean) } : item;
    return item.matte ? { ...made, matte: { ...item.matte, item: build(item.matte.layer) } } : made;
  };
  const tree = (roots || []).map(build).filter(Boolean);
  const alone = ({ layer, children }) => !placed.has(layer) && !children && !layer.includes(FOR_MATTE);
  return [...tree, ...items.filter(alone)];
}
