// Reading packed answers: a JSON head, then float32 rows. Layout as in docs/format.md.
export function unpack(buffer) {
  const length = new DataView(buffer).getUint32(0, true);
  const head = JSON.parse(new TextDecoder().decode(new Uint8Array(buffer, 4, length)));
  let at = 4 + length;
  const take = (rows, wide) => {
    const part = new Float32Array(buffer, at, rows * wide);
    at += rows * wide * 4;
    return part;
  };
  const block = (told) => ({ ...told, numbers: take(told.rows, told.wide) });
  const read = (table) => table.items.map((item) => {
    const numbers = take(item.rows, 7);
    const look = item.look && Object.fromEntries(item.look.map((told) => [told.name, block(told)]));
    return { ...item, numbers, look, outline: item.outline && block(item.outline) };
  });
  const items = head.table ? read(head.table) : [];
  const columns = {};
  for (const column of head.columns || []) columns[column.name] = { ...column, numbers: take(column.rows, column.wide) };
  const still = head.still ? { frame: head.still.first, items: read(head.still) } : null;
  return { head, items, columns, still };
}

// Seven numbers of an item at a frame: a b c d e f opacity. One row serves all frames where nothing changes.
export function rowAt(item, frame) {
  return item.numbers.subarray(Math.min(frame, item.rows - 1) * 7, Math.min(frame, item.rows - 1) * 7 + 7);
}

export function columnAt(column, frame) {
  const row = Math.min(frame, column.rows - 1) * column.wide;
  return column.numbers.subarray(row, row + column.wide);
}
