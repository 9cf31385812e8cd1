import sharp from 'sharp';

/** An RGB picture with opacity, floats of 0 to 255, four a pixel. */
export interface Raster {
  width: number;
  height: number;
  data: Float32Array;
}

export function blank(width: number, height: number): Raster {
  return { width, height, data: new Float32Array(width * height * 4) };
}

/** A picture file, reduced by `scale` where it is larger than it will be seen. */
export async function loadPlate(file: string, scale = 1): Promise<Raster> {
  const image = sharp(file).ensureAlpha();
  const { width = 1, height = 1 } = await image.metadata();
  const { data, info } = await image
    .resize(Math.round(width * scale), Math.round(height * scale), { kernel: 'lanczos3' })
    .raw()
    .toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data: Float32Array.from(data) };
}

/** Text in white with a dark edge on nothing. */
export async function textRaster(text: string, size: number, font: string): Promise<Raster> {
  const lines = text.split('\n');
  const width = Math.ceil(Math.max(...lines.map((l) => l.length)) * size * 0.62) + 20,
    height = Math.ceil(lines.length * size * 1.3) + 12;
  const spans = lines
    .map((line, i) => `<text x="${width / 2}" y="${(i + 1) * size * 1.25}" text-anchor="middle">${line.replace(/&/g, '&amp;')}</text>`)
    .join('');
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}"><g font-family="${font}" font-size="${size}" fill="#f4f1e6" stroke="#151515" stroke-width="3" paint-order="stroke">${spans}</g></svg>`;
  const { data, info } = await sharp(Buffer.from(svg)).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data: Float32Array.from(data) };
}

/** Where a camera looks on a plate: centre and height in plate pixels, turn in radians. */
export interface Look {
  x: number;
  y: number;
  height: number;
  turn?: number;
}

/** Samples an output pixel averages each way, against aliasing. */
const SUPER = 2;

/** What a camera of width x height pixels, shown at `aspect`, sees of a plate; bilinear, averaged over each pixel. */
export function look(plate: Raster, view: Look, width: number, height: number, aspect: number): Raster {
  const out = blank(width, height);
  const scaleY = view.height / height,
    scaleX = (view.height * aspect) / width;
  const c = Math.cos(view.turn ?? 0),
    s = Math.sin(view.turn ?? 0);
  const sum = [0, 0, 0, 0];
  for (let y = 0, o = 0; y < height; y++) {
    for (let x = 0; x < width; x++, o += 4) {
      sum.fill(0);
      for (let k = 0; k < SUPER * SUPER; k++) {
        const dx = (x + ((k % SUPER) + 0.5) / SUPER - width / 2) * scaleX,
          dy = (y + (Math.floor(k / SUPER) + 0.5) / SUPER - height / 2) * scaleY;
        sample(plate, view.x + dx * c - dy * s - 0.5, view.y + dx * s + dy * c - 0.5, sum);
      }
      const alpha = sum[3];
      for (let i = 0; i < 3; i++) out.data[o + i] = alpha > 0 ? sum[i] / alpha : 0;
      out.data[o + 3] = alpha / (SUPER * SUPER);
    }
  }
  return out;
}

/** Adds a bilinear sample, weighted by its opacity; outside the plate there is nothing. */
function sample(plate: Raster, x: number, y: number, sum: number[]): void {
  const x0 = Math.floor(x),
    y0 = Math.floor(y);
  for (let k = 0; k < 4; k++) {
    const px = x0 + (k & 1),
      py = y0 + (k >> 1);
    if (px < 0 || py < 0 || px >= plate.width || py >= plate.height) continue;
    const weight = (k & 1 ? x - x0 : 1 - x + x0) * (k >> 1 ? y - y0 : 1 - y + y0);
    const i = (py * plate.width + px) * 4,
      alpha = weight * plate.data[i + 3];
    for (let j = 0; j < 3; j++) sum[j] += plate.data[i + j] * alpha;
    sum[3] += alpha;
  }
}

/** Puts a cut-out figure onto a picture with its middle bottom at (x, y), `height` pixels high. */
export function place(onto: Raster, figure: Raster, x: number, y: number, height: number, aspect = 1, mirrored = false): void {
  const scale = height / figure.height,
    width = figure.width * scale * aspect;
  const view = look(
    figure,
    { x: figure.width / 2, y: figure.height / 2, height: figure.height },
    Math.ceil(width),
    Math.ceil(height),
    figure.width / figure.height,
  );
  const left = Math.floor(x - width / 2),
    top = Math.floor(y - height);
  const fx = x - width / 2 - left,
    fy = y - height - top;
  const sum = [0, 0, 0, 0];
  for (let py = 0; py <= view.height; py++) {
    for (let px = 0; px <= view.width; px++) {
      const ox = left + px,
        oy = top + py;
      if (ox < 0 || oy < 0 || ox >= onto.width || oy >= onto.height) continue;
      sum.fill(0);
      const at = px - fx;
      sample(view, mirrored ? view.width - 1 - at : at, py - fy, sum);
      const alpha = sum[3] / 255;
      if (alpha <= 0) continue;
      const o = (oy * onto.width + ox) * 4;
      for (let i = 0; i < 3; i++) onto.data[o + i] += (sum[i] / sum[3] - onto.data[o + i]) * alpha;
    }
  }
}

/** 8-bit red, green, blue of a picture. */
export function bytesOf(picture: Raster): Buffer {
  const out = Buffer.alloc(picture.width * picture.height * 3);
  for (let i = 0, o = 0; i < picture.data.length; i += 4, o += 3) {
    for (let c = 0; c < 3; c++) out[o + c] = Math.max(0, Math.min(255, Math.round(picture.data[i + c])));
  }
  return out;
}

/** Alternate lines of two pictures: the even ones of the first. */
export function weave(top: Raster, bottom: Raster): Raster {
  const out = { ...top, data: top.data.slice() };
  const row = top.width * 4;
  for (let y = 1; y < top.height; y += 2) out.data.set(bottom.data.subarray(y * row, (y + 1) * row), y * row);
  return out;
}
