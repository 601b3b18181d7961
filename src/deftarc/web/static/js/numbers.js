// A number as it was typed: a comma or a true minus are as good as a point or a hyphen, and its unit may stand after it.
export function typedNumber(text) {
  const plain = String(text)
    .trim()
    .replace(/−|–/g, "-")
    .replace(",", ".")
    .replace(/\s*(%|px|°|f)$/, "");
  return plain === "" ? NaN : Number(plain);
}
