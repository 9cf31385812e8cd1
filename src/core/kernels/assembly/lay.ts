// Colours of a small raster laid over a picture; the reference is ../reference/lay.ts.

/** The code of no colour. */
const NEUTRAL: f32 = 32768;

/** A place of the raster: four floats, of which the last is how far its own colours stay; lightness is the third. */
@inline
function part(raster: usize, place: i32, near: f32, code: f32, alike: usize, least: f32): v128 {
  const values = v128.load(raster + ((<usize>place) << 4));
  const off = <i32>(abs<f32>(f32x4.extract_lane(values, 2) - code) + 0.5);
  const weight: f32 = (least + near) * (least + load<f32>(alike + ((<usize>off) << 2)));
  // Lightness itself is not asked for: its lane counts the weights.
  return f32x4.mul(f32x4.splat(weight), f32x4.replace_lane(values, 2, 1));
}

@inline
function coded(v: f32): u16 {
  return <u16>min<f32>(65535, max<f32>(0, v));
}

@inline
function room(luma: f32, off: f32, most: f32): f32 {
  const free = most * (off > 0 ? 1 - luma : luma);
  const size = abs<f32>(off);
  return free < size ? free / size : 1;
}

@inline
function limit(luma: f32, b: f32, r: f32, figures: usize, most: f32): f32 {
  const red = room(luma, load<f32>(figures) * b + load<f32>(figures, 4) * r, most),
    green = room(luma, load<f32>(figures, 8) * b + load<f32>(figures, 12) * r, most),
    blue = room(luma, load<f32>(figures, 16) * b + load<f32>(figures, 20) * r, most);
  return min<f32>(red, min<f32>(green, blue));
}

/**
 * @param light luma samples of the picture's part, `lightWidth` to a row, from its first chroma sample on; `across` and `down` of them to a chroma sample,
 * fewer at the right and below.
 * @param columns for each chroma sample of a row the places of the raster before and after it (whole numbers), and how far it lies beyond (a float).
 * @param figures floats: what red, green and blue have of Cb and of Cr (6), Cb and Cr of the stream from those of BT.601 (4), black and span of luma,
 * span of chroma, the shade, the weight, the room there is (16 in all).
 * @param ownCb and `ownCr` the picture's own, `ownWidth` to a row; 0 where it has none.
 */
export function layRows(
  raster: usize,
  rasterWidth: i32,
  alike: usize,
  least: f32,
  light: usize,
  lightWidth: i32,
  lightHeight: i32,
  across: i32,
  down: i32,
  columns: usize,
  rows: usize,
  width: i32,
  height: i32,
  figures: usize,
  ownCb: usize,
  ownCr: usize,
  ownWidth: i32,
  outCb: usize,
  outCr: usize,
): void {
  const bb = load<f32>(figures, 24),
    br = load<f32>(figures, 28),
    rb = load<f32>(figures, 32),
    rr = load<f32>(figures, 36),
    black = load<f32>(figures, 40),
    span = load<f32>(figures, 44),
    chroma = load<f32>(figures, 48),
    dark = load<f32>(figures, 52),
    weight = load<f32>(figures, 56),
    most = load<f32>(figures, 60);
  const single = across * down == 1;
  for (let y: i32 = 0; y < height; y++) {
    const line = rows + (<usize>y) * 12;
    const top = load<i32>(line) * rasterWidth,
      low = load<i32>(line, 4) * rasterWidth,
      below = load<f32>(line, 8);
    for (let x: i32 = 0; x < width; x++) {
      let darkest: u32 = 65535,
        lightest: u32 = 0,
        sum: u32 = 0;
      let count: u32 = 0;
      if (single) {
        sum = darkest = lightest = load<u16>(light + ((<usize>(y * lightWidth + x)) << 1));
        count = 1;
      } else {
        const bottom = min<i32>(lightHeight, (y + 1) * down),
          right = min<i32>(lightWidth, (x + 1) * across);
        for (let v: i32 = y * down; v < bottom; v++)
          for (let u: i32 = x * across; u < right; u++) {
            const sample: u32 = load<u16>(light + ((<usize>(v * lightWidth + u)) << 1));
            sum += sample;
            darkest = min<u32>(darkest, sample);
            lightest = max<u32>(lightest, sample);
            count++;
          }
      }
      const luma = min<f32>(1, max<f32>(0, (<f32>sum / <f32>count - black) / span));
      const code: f32 = 255 * luma;
      const column = columns + (<usize>x) * 12;
      const left = load<i32>(column),
        far = load<i32>(column, 4),
        beside = load<f32>(column, 8);
      let all = part(raster, top + left, (1 - below) * (1 - beside), code, alike, least);
      all = f32x4.add(all, part(raster, top + far, (1 - below) * beside, code, alike, least));
      all = f32x4.add(all, part(raster, low + left, below * (1 - beside), code, alike, least));
      all = f32x4.add(all, part(raster, low + far, below * beside, code, alike, least));
      const counted = f32x4.extract_lane(all, 2);
      const shade: f32 = (luma + dark) / (255 * counted);
      const placeB = f32x4.extract_lane(all, 0),
        placeR = f32x4.extract_lane(all, 1);
      const b: f32 = shade * (bb * placeB + br * placeR),
        r: f32 = shade * (rb * placeB + rr * placeR);
      let held = limit(min<f32>(1, max<f32>(0, (<f32>darkest - black) / span)), b, r, figures, most);
      // What is within bounds at the darkest and the lightest pixel of a sample is so at all of them.
      if (lightest > darkest) held = min<f32>(held, limit(min<f32>(1, max<f32>(0, (<f32>lightest - black) / span)), b, r, figures, most));
      const scale: f32 = held * chroma;
      const weighed: f32 = weight * (1 - f32x4.extract_lane(all, 3) / (255 * counted));
      const to = (<usize>(y * width + x)) << 1,
        from = (<usize>(y * ownWidth + x)) << 1;
      const beforeB: f32 = ownCb ? <f32>load<u16>(ownCb + from) - NEUTRAL : 0,
        beforeR: f32 = ownCr ? <f32>load<u16>(ownCr + from) - NEUTRAL : 0;
      store<u16>(outCb + to, coded(NEUTRAL + 0.5 + beforeB + weighed * (scale * b - beforeB)));
      store<u16>(outCr + to, coded(NEUTRAL + 0.5 + beforeR + weighed * (scale * r - beforeR)));
    }
  }
}
