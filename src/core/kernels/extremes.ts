/** The least or the highest sample of the square round each, by running extremes of blocks (van Herk, 1992). */
export function extremes(
  plane: Float32Array,
  width: number,
  height: number,
  radius: number,
  pick: (a: number, b: number) => number,
): Float32Array {
  const least = pick(0, 1) === 0;
  const beyond = least ? Infinity : -Infinity;
  const side = 2 * radius + 1;
  const out = new Float32Array(width * height);
  const longest = Math.max(width, height) + 2 * radius + side;
  const line = new Float32Array(longest),
    ahead = new Float32Array(longest),
    back = new Float32Array(longest);
  const run = (from: Float32Array, start: number, step: number, length: number): void => {
    const padded = Math.ceil((length + 2 * radius) / side) * side;
    line.fill(beyond, 0, padded);
    for (let n = 0; n < length; n++) line[n + radius] = from[start + n * step];
    for (let block = 0; block < padded; block += side) {
      let best = beyond;
      for (let n = block; n < block + side; n++) {
        const v = line[n];
        if (least ? v < best : v > best) best = v;
        ahead[n] = best;
      }
      best = beyond;
      for (let n = block + side - 1; n >= block; n--) {
        const v = line[n];
        if (least ? v < best : v > best) best = v;
        back[n] = best;
      }
    }
    for (let n = 0; n < length; n++) {
      const a = back[n],
        b = ahead[n + side - 1];
      out[start + n * step] = least === a < b ? a : b;
    }
  };
  for (let y = 0; y < height; y++) run(plane, y * width, 1, width);
  for (let x = 0; x < width; x++) run(out, x, width, height);
  return out;
}
