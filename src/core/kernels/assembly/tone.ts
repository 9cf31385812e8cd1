// Tones of a picture through tables of stops; the reference is ../reference/tone.ts, and both give the same to the last bit.

const NEUTRAL: f64 = 32768;

/** A code between 0 and 65535, rounded. */
@inline
function held(v: f64): usize {
  return v <= 0 ? 0 : v >= 65535 ? 65535 : <usize>(<i32>(v + 0.5));
}

@inline
function stopsAt(table: usize, code: f64): f32 {
  return load<f32>(table + (held(code) << 2));
}

@inline
function coded(table: usize, code: f64): f64 {
  return <f64>load<u16>(table + (held(code) << 1));
}

/** The code of a light in stops. */
@inline
function codeAt(codes: usize, last: i32, darkest: f64, fine: f64, stops: f64): f64 {
  const i: f64 = (stops - darkest) * fine + 0.5;
  const at: i32 = i <= 0 ? 0 : i >= <f64>(last + 1) ? last : <i32>i;
  return <f64>load<u16>(codes + ((<usize>at) << 1));
}

/**
 * Lightness in stops of `count` pixels, each colour by its weight.
 *
 * @param cb 0 where there is luma alone; so is `cr`.
 * @param tables 65536 floats for each of red, green and blue, one after another.
 * @param figures doubles as the binding lays them down.
 */
export function toneStops(luma: usize, cb: usize, cr: usize, count: i32, tables: usize, figures: usize, out: usize): void {
  const black = load<f64>(figures),
    gainY = load<f64>(figures, 8),
    gainC = load<f64>(figures, 16);
  const rr = load<f64>(figures, 24),
    gb = load<f64>(figures, 32),
    gr = load<f64>(figures, 40),
    bb = load<f64>(figures, 48);
  const red = load<f64>(figures, 192),
    green = load<f64>(figures, 200),
    blue = load<f64>(figures, 208);
  for (let i: i32 = 0; i < count; i++) {
    const at = (<usize>i) << 1;
    const l: f64 = (<f64>load<u16>(luma + at) - black) * gainY;
    let stops: f32;
    if (cb) {
      const b: f64 = (<f64>load<u16>(cb + at) - NEUTRAL) * gainC,
        r: f64 = (<f64>load<u16>(cr + at) - NEUTRAL) * gainC;
      stops = <f32>(red * <f64>stopsAt(tables, l + rr * r));
      stops = <f32>(<f64>stops + green * <f64>stopsAt(tables + 262144, l + gb * b + gr * r));
      stops = <f32>(<f64>stops + blue * <f64>stopsAt(tables + 524288, l + bb * b));
    } else stops = stopsAt(tables, l);
    store<f32>(out + ((<usize>i) << 2), stops);
  }
}

/** Two samples side by side. */
@inline
function pair(at: usize): v128 {
  return f64x2.convert_low_i32x4_u(i32x4.extend_low_i16x8_u(v128.load32_zero(at)));
}

/** Two codes between 0 and 65535, rounded. */
@inline
function heldPair(v: v128): v128 {
  return i32x4.min_u(i32x4.trunc_sat_f64x2_u_zero(f64x2.add(v, f64x2.splat(0.5))), i32x4.splat(65535));
}

@inline
function codedPair(table: usize, code: v128): v128 {
  const at = heldPair(code);
  const first = load<u16>(table + ((<usize>i32x4.extract_lane(at, 0)) << 1)),
    second = load<u16>(table + ((<usize>i32x4.extract_lane(at, 1)) << 1));
  return f64x2.convert_low_i32x4_u(i32x4.replace_lane(i32x4.splat(first), 1, second));
}

@inline
function storePair(at: usize, v: v128): void {
  const codes = heldPair(v);
  store<u32>(at, (i32x4.extract_lane(codes, 1) << 16) | i32x4.extract_lane(codes, 0));
}

@inline
function times(factor: f64, v: v128): v128 {
  return f64x2.mul(f64x2.splat(factor), v);
}

@inline
function mixed(ofRed: f64, r: v128, ofGreen: f64, g: v128, ofBlue: f64, b: v128): v128 {
  return f64x2.add(f64x2.add(times(ofRed, r), times(ofGreen, g)), times(ofBlue, b));
}

/** Codes of a table of stops. */
export function toneCodes(tables: usize, count: i32, codes: usize, last: i32, figures: usize, out: usize): void {
  const darkest = load<f64>(figures, 168),
    fine = load<f64>(figures, 176);
  for (let i: i32 = 0; i < count; i++) {
    const stops = <f64>load<f32>(tables + ((<usize>i) << 2));
    store<u16>(out + ((<usize>i) << 1), <u16>codeAt(codes, last, darkest, fine, stops));
  }
}

/**
 * A part of a picture in another look.
 *
 * @param luma and `cb`, `cr` (0 where there are none) from the part's first sample on, `stride` samples to a row.
 * @param moved stops that each pixel is moved by, as the samples lie; 0 where it is none.
 * @param direct 65536 codes for each of red, green and blue, one after another, where no pixel is moved; else 0.
 * @param figures doubles as the binding lays them down.
 */
export function toneRows(
  luma: usize,
  cb: usize,
  cr: usize,
  stride: i32,
  moved: usize,
  direct: usize,
  width: i32,
  height: i32,
  tables: usize,
  codes: usize,
  last: i32,
  figures: usize,
  uneven: boolean,
  recolours: boolean,
  outLuma: usize,
  outCb: usize,
  outCr: usize,
): void {
  const black = load<f64>(figures),
    gainY = load<f64>(figures, 8),
    gainC = load<f64>(figures, 16);
  const rr = load<f64>(figures, 24),
    gb = load<f64>(figures, 32),
    gr = load<f64>(figures, 40),
    bb = load<f64>(figures, 48);
  const yr = load<f64>(figures, 56),
    yg = load<f64>(figures, 64),
    yb = load<f64>(figures, 72),
    br = load<f64>(figures, 80),
    bg = load<f64>(figures, 88),
    ownB = load<f64>(figures, 96),
    ownR = load<f64>(figures, 104),
    rg = load<f64>(figures, 112),
    rb = load<f64>(figures, 120);
  const scaleY = load<f64>(figures, 128),
    scaleC = load<f64>(figures, 136),
    strength = load<f64>(figures, 144),
    pale = load<f64>(figures, 152),
    strongFrom = load<f64>(figures, 160);
  const darkest = load<f64>(figures, 168),
    fine = load<f64>(figures, 176);
  const across = load<f64>(figures, 216),
    down = load<f64>(figures, 224),
    corners = load<f64>(figures, 232),
    left = load<f64>(figures, 240),
    top = load<f64>(figures, 248),
    frameWidth = load<f64>(figures, 256),
    frameHeight = load<f64>(figures, 264);
  // Samples of a row that go through the tables of codes in pairs; the rest goes one by one.
  const begun: i32 = cb && direct && !recolours ? width & ~1 : 0;
  const blackPair = f64x2.splat(black),
    neutralPair = f64x2.splat(NEUTRAL);
  for (let y: i32 = 0; y < height; y++) {
    for (let x: i32 = 0; x < begun; x += 2) {
      const at = (<usize>(y * stride + x)) << 1,
        to = (<usize>(y * width + x)) << 1;
      const l = times(gainY, f64x2.sub(pair(luma + at), blackPair)),
        blue = times(gainC, f64x2.sub(pair(cb + at), neutralPair)),
        red = times(gainC, f64x2.sub(pair(cr + at), neutralPair));
      const r = codedPair(direct, f64x2.add(l, times(rr, red))),
        g = codedPair(direct + 131072, f64x2.add(f64x2.add(l, times(gb, blue)), times(gr, red))),
        b = codedPair(direct + 262144, f64x2.add(l, times(bb, blue)));
      storePair(outLuma + to, f64x2.add(blackPair, times(scaleY, mixed(yr, r, yg, g, yb, b))));
      storePair(outCb + to, f64x2.add(neutralPair, times(scaleC, mixed(br, r, bg, g, ownB, b))));
      storePair(outCr + to, f64x2.add(neutralPair, times(scaleC, mixed(ownR, r, rg, g, rb, b))));
    }
    const v: f64 = (2 * (top + <f64>y + 0.5)) / frameHeight - 1;
    for (let x: i32 = begun; x < width; x++) {
      const from = <usize>(y * stride + x),
        at = from << 1,
        to = (<usize>(y * width + x)) << 1;
      const l: f64 = (<f64>load<u16>(luma + at) - black) * gainY;
      let by: f64 = moved ? <f64>load<f32>(moved + (from << 2)) : 0;
      if (uneven) {
        const u: f64 = (2 * (left + <f64>x + 0.5)) / frameWidth - 1;
        by += (across * u + down * v) / 2 + (corners * (u * u + v * v)) / 2;
      }
      if (!cb) {
        const code: f64 = direct ? coded(direct, l) : codeAt(codes, last, darkest, fine, <f64>stopsAt(tables, l) + by);
        store<u16>(outLuma + to, <u16>held(black + scaleY * code));
        continue;
      }
      const blue: f64 = (<f64>load<u16>(cb + at) - NEUTRAL) * gainC,
        red: f64 = (<f64>load<u16>(cr + at) - NEUTRAL) * gainC;
      const ofRed: f64 = l + rr * red,
        ofGreen: f64 = l + gb * blue + gr * red,
        ofBlue: f64 = l + bb * blue;
      let r: f64, g: f64, b: f64;
      if (direct) {
        r = coded(direct, ofRed);
        g = coded(direct + 131072, ofGreen);
        b = coded(direct + 262144, ofBlue);
      } else {
        r = codeAt(codes, last, darkest, fine, <f64>stopsAt(tables, ofRed) + by);
        g = codeAt(codes, last, darkest, fine, <f64>stopsAt(tables + 262144, ofGreen) + by);
        b = codeAt(codes, last, darkest, fine, <f64>stopsAt(tables + 524288, ofBlue) + by);
      }
      let toBlue: f64 = br * r + bg * g + ownB * b,
        toRed: f64 = ownR * r + rg * g + rb * b;
      if (recolours) {
        const strong = min<f64>(1, sqrt<f64>(toBlue * toBlue + toRed * toRed) / strongFrom);
        const scale = strength * (1 + (pale - 1) * (1 - strong));
        toBlue *= scale;
        toRed *= scale;
      }
      store<u16>(outLuma + to, <u16>held(black + scaleY * (yr * r + yg * g + yb * b)));
      store<u16>(outCb + to, <u16>held(NEUTRAL + scaleC * toBlue));
      store<u16>(outCr + to, <u16>held(NEUTRAL + scaleC * toRed));
    }
  }
}
