/** Holds `data` within the range of the 3 x 3 samples of `src` round each, widened on both sides by `slack` of it. Planes of floats. */
export function holdRange(src: usize, width: i32, height: i32, slack: f32, data: usize): void {
  const give = f32x4.splat(slack);
  for (let y = 0; y < height; y++) {
    const above = src + ((max(0, y - 1) * width) << 2), row = src + ((y * width) << 2), below = src + ((min(height - 1, y + 1) * width) << 2);
    const out = data + ((y * width) << 2);
    let x = 1;
    if (width > 0) holdOne(above, row, below, width, 0, slack, out);
    for (; x + 5 <= width; x += 4) {
      const o = x << 2;
      let least = v128.load(row + o), most = least;
      for (let k = -4; k <= 4; k += 4) {
        const a = v128.load(above + o + k), b = v128.load(row + o + k), c = v128.load(below + o + k);
        least = f32x4.min(least, f32x4.min(a, f32x4.min(b, c)));
        most = f32x4.max(most, f32x4.max(a, f32x4.max(b, c)));
      }
      const room = f32x4.mul(give, f32x4.sub(most, least));
      const p = out + o;
      v128.store(p, f32x4.min(f32x4.add(most, room), f32x4.max(f32x4.sub(least, room), v128.load(p))));
    }
    for (; x < width; x++) holdOne(above, row, below, width, x, slack, out);
  }
}

function holdOne(above: usize, row: usize, below: usize, width: i32, x: i32, slack: f32, out: usize): void {
  let least = load<f32>(row + (x << 2)), most = least;
  for (let dx = -1; dx <= 1; dx++) {
    const o = min(width - 1, max(0, x + dx)) << 2;
    const a = load<f32>(above + o), b = load<f32>(row + o), c = load<f32>(below + o);
    least = min(least, min(a, min(b, c)));
    most = max(most, max(a, max(b, c)));
  }
  const room = slack * (most - least);
  const p = out + (x << 2);
  store<f32>(p, min(most + room, max(least - room, load<f32>(p))));
}
