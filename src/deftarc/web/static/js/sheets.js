// Sheets: canvases to paint on aside, and how one is laid on another.

const sheets = [];

// Without a graphics card sheets that are painted at once, and not told to it first, come at half the time.
let told = null;

function sheetOptions() {
  told ||= {
    willReadFrequently: !document.createElement("canvas").getContext("webgl", { failIfMajorPerformanceCaveat: true }),
  };
  return told;
}

// A clean canvas to paint on aside, of a size or as large as another; whoever takes one gives it back.
export function sheetFor({ canvas: { width, height } }) {
  const at = sheets.findLastIndex(({ canvas }) => canvas.width === width && canvas.height === height);
  const sheet =
    at < 0
      ? sheets.pop() || document.createElement("canvas").getContext("2d", sheetOptions())
      : sheets.splice(at, 1)[0];
  if (sheet.canvas.width !== width || sheet.canvas.height !== height) {
    sheet.canvas.width = width;
    sheet.canvas.height = height;
  } else sheet.reset();
  sheet.imageSmoothingEnabled = true;
  sheet.imageSmoothingQuality = "high";
  return sheet;
}

// So many are kept for the next time.
const MOST_SHEETS = 24;

export const giveBack = (sheet) => {
  sheets.push(sheet);
  if (sheets.length > MOST_SHEETS) sheets.shift();
};

// A sheet of a size, which whoever takes it need not give back.
export const spare = (width, height) => sheetFor({ canvas: { width, height } });

// Sheets come in sizes of so many px, so that one fits the next item, too.
const SIZES = 32;

export const roomy = (px) => Math.max(1, Math.ceil(px / SIZES)) * SIZES;

// Lays one sheet on another as it is, or through a matrix, its corner at a place.
export function lay(ctx, sheet, operation = "source-over", alpha = 1, filter = "none", [x, y] = [0, 0], matrix = null) {
  ctx.save();
  ctx.setTransform(1, 0, 0, 1, x, y);
  if (matrix) {
    ctx.transform(matrix.a, matrix.b, matrix.c, matrix.d, matrix.e, matrix.f);
    // A sheet is as fine as the canvas, and what is softened asks for no more.
    ctx.imageSmoothingQuality = "low";
  }
  ctx.globalCompositeOperation = operation;
  ctx.globalAlpha = alpha;
  ctx.filter = filter;
  ctx.drawImage(sheet.canvas, 0, 0);
  ctx.restore();
}

export function filtered(sheet, words) {
  const out = sheetFor(sheet);
  lay(out, sheet, "source-over", 1, words);
  return out;
}
