// Numbers of curves in words.
export const told = (value, unit) => {
  if (Math.abs(value) > 1e30) return `unbounded ${unit}`;
  const text = value.toFixed(Math.abs(value) >= 100 ? 0 : 1).replace(/\.0$/, "");
  return `${text === "-0" ? "0" : text}${/^[°%]/.test(unit) ? "" : " "}${unit}`;
};
// A measure as it is shown: where equal heights are equal ratios it stands for its exponential.
export const toldValue = (curve, measure) =>
  told(curve.growth ? Math.exp(measure) * curve.growth : measure, curve.unit);
