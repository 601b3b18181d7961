// Words of the hint line: what stands in the template may be strong (<b>) or a stroke (<kbd>), and what is put into it is
// text, whatever it holds, unless it was marked here itself. So a name is never markup.
const TAGS = /(<\/?(?:b|kbd)>)/;

export class Marked {
  constructor(parts) {
    this.parts = parts;
  }

  // The words without their marks.
  toString() {
    return this.parts.map((part) => (typeof part === "string" ? part : (part.told ?? ""))).join("");
  }
}

/** @param {TemplateStringsArray} strings
 * @param {...any} values */
export function marked(strings, ...values) {
  const parts = [];
  strings.forEach((literal, n) => {
    for (const piece of literal.split(TAGS)) {
      if (TAGS.test(piece)) parts.push({ opens: !piece.startsWith("</"), tag: piece.replace(/[</>]/g, "") });
      else if (piece) parts.push(piece);
    }
    const value = values[n];
    if (value instanceof Marked) parts.push(...value.parts);
    else if (n < values.length && String(value)) parts.push({ told: String(value) });
  });
  return new Marked(parts);
}

// What was marked as nodes; of plain text, one text.
/** @param {Marked | string} words */
export function nodesOf(words) {
  const whole = document.createDocumentFragment();
  if (!(words instanceof Marked)) {
    whole.append(String(words));
    return whole;
  }
  /** @type {Node & ParentNode} */
  let place = whole;
  for (const part of words.parts) {
    if (typeof part === "string") place.append(part);
    else if (part.told !== undefined)
      place.append(Object.assign(document.createElement("bdi"), { textContent: part.told }));
    else if (part.opens) {
      const made = document.createElement(part.tag);
      place.append(made);
      place = made;
    } else place = place.parentNode ?? whole;
  }
  return whole;
}
