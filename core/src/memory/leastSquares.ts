/** A straight line through points: its slope, the slope's standard error, and the share of the spread it explains. */
export interface Line {
  slope: number;
  error: number;
  rsquared: number;
}

/** Ordinary least squares of the first `count` points; NaN for fewer than three. The line is written into `line`. */
export function fitLine(x: Float64Array, y: Float64Array, count: number, line: Line): void {
  line.slope = line.error = line.rsquared = NaN;
  if (count < 3) return;
  let meanX = 0;
  let meanY = 0;
  for (let i = 0; i < count; i++) {
    meanX += x[i];
    meanY += y[i];
  }
  meanX /= count;
  meanY /= count;
  let xx = 0;
  let xy = 0;
  let yy = 0;
  for (let i = 0; i < count; i++) {
    const dx = x[i] - meanX;
    const dy = y[i] - meanY;
    xx += dx * dx;
    xy += dx * dy;
    yy += dy * dy;
  }
  line.slope = xy / xx;
  let residual = 0;
  for (let i = 0; i < count; i++) residual += (y[i] - meanY - line.slope * (x[i] - meanX)) ** 2;
  line.error = Math.sqrt(residual / (count - 2) / xx);
  line.rsquared = yy > 0 ? 1 - residual / yy : NaN;
}
