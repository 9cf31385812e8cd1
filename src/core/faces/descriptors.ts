import { executionProviders } from '../networks/model';
import { OnnxFile } from '../vision/onnxFile';
import { packageWeights, type Weights } from '../vision/packageWeights';
import type { Rgb } from '../vision/rgb';
import { type Similarity, within } from './frame';
import { sampledRgb } from './sampled';

/** Numbers that are near one another for pictures of one person: a unit vector. */
export type Descriptor = Float32Array;

/** A network that describes faces, and where it wants them: the frame that faces are laid straight in, as a part of what it sees. */
interface Describer {
  side: number;
  /** Side of the frame as a share of its input's, and where its middle lies, in parts of the input. */
  frame: { size: number; x: number; y: number };
  /** What a byte becomes, for red, green and blue. */
  level(v: number, channel: number): number;
  file(): Uint8Array;
}

/** Channels last, as packages have them, to channels first. */
function convolution({ shape: [h, w, cin, cout], values }: Weights, depthwise: boolean): Weights {
  const out = new Float32Array(values.length);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++)
      for (let i = 0; i < cin; i++)
        for (let o = 0; o < cout; o++) {
          const from = ((y * w + x) * cin + i) * cout + o;
          out[(depthwise ? i : o * cin + i) * h * w + y * w + x] = values[from];
        }
  return { shape: depthwise ? [cin, 1, h, w] : [cout, cin, h, w], values: out };
}

/**
 * 128 numbers by a residual network (of the package @vladmandic/face-api, MIT; King, dlib's face recognition, 2017; He et al., 2016), which learned from
 * faces of 150 pixels.
 */
const residual: Describer = {
  side: 150,
  frame: { size: 1, x: 0.5, y: 0.44 },
  level: (v, channel) => (v - [122.782, 117.001, 104.298][channel]) / 255,
  file() {
    const weights = packageWeights(
      '@vladmandic/face-api',
      'model/face_recognition_model-weights_manifest.json',
      'model/face_recognition_model.bin',
    );
    const of = (name: string): Weights => weights.get(name) as Weights;
    const net = new OnnxFile();
    const conv = (x: string, name: string, stride: 1 | 2, relu: boolean): string => {
      const { shape, values } = convolution(of(`${name}/conv/filters`), false);
      const { values: scale } = of(`${name}/scale/weights`),
        { values: shift } = of(`${name}/scale/biases`);
      const per = values.length / scale.length;
      const bias = of(`${name}/conv/bias`).values.map((v, o) => v * scale[o] + shift[o]);
      const pads = stride === 1 ? [1, 1, 1, 1] : [0, 0, 0, 0];
      const inputs = [
        x,
        net.constant(
          shape,
          values.map((v, i) => v * scale[Math.floor(i / per)]),
        ),
        net.constant([bias.length], bias),
      ];
      const made = net.add('Conv', inputs, { strides: [stride, stride], pads });
      return relu ? net.add('Relu', [made]) : made;
    };
    let side = 72;
    let channels = 32;
    const plain = (x: string, name: string): string =>
      net.add('Relu', [net.add('Add', [conv(conv(x, `${name}/conv1`, 1, true), `${name}/conv2`, 1, false), x])]);
    const down = (x: string, name: string, more: boolean): string => {
      let out = conv(conv(x, `${name}/conv1`, 2, true), `${name}/conv2`, 1, false);
      let pooled = net.add('AveragePool', [x], { kernel_shape: [2, 2], strides: [2, 2] });
      const made = Math.floor((side - 3) / 2) + 1;
      side = Math.floor(side / 2);
      // A side that the convolution made shorter is filled up at the right and below.
      const missing = side - made;
      if (missing > 0) out = net.add('Pad', [out, net.integers([0, 0, 0, 0, 0, 0, missing, missing])]);
      if (more) pooled = net.add('Pad', [pooled, net.integers([0, 0, 0, 0, 0, channels, 0, 0])]);
      if (more) channels *= 2;
      return net.add('Relu', [net.add('Add', [pooled, out])]);
    };
    let x = conv('picture', 'conv32_down', 2, true);
    x = net.add('MaxPool', [x], { kernel_shape: [3, 3], strides: [2, 2] });
    side = 35;
    for (const name of ['conv32_1', 'conv32_2', 'conv32_3']) x = plain(x, name);
    x = down(x, 'conv64_down', true);
    for (const name of ['conv64_1', 'conv64_2', 'conv64_3']) x = plain(x, name);
    x = down(x, 'conv128_down', true);
    for (const name of ['conv128_1', 'conv128_2']) x = plain(x, name);
    x = down(x, 'conv256_down', true);
    for (const name of ['conv256_1', 'conv256_2']) x = plain(x, name);
    x = down(x, 'conv256_down_out', false);
    x = net.add('Flatten', [net.add('GlobalAveragePool', [x])]);
    const { shape, values } = of('fc');
    return net.written({ name: 'picture', shape: [1, 3, 150, 150] }, [net.add('MatMul', [x, net.constant(shape, values)])]);
  },
};

/** 1024 numbers by a network of separable convolutions (faceres of the package @vladmandic/human, MIT; Howard et al., MobileNets, 2017). */
const separable: Describer = {
  side: 224,
  frame: { size: 0.9, x: 0.5, y: 0.48 },
  level: (v) => v,
  file() {
    const weights = packageWeights('@vladmandic/human', 'models/faceres.json', 'models/faceres.bin');
    const of = (name: string): Weights => weights.get(name) as Weights;
    const net = new OnnxFile();
    const least = net.constant([], Float32Array.of(0)),
      most = net.constant([], Float32Array.of(6));
    const relu6 = (x: string): string => net.add('Clip', [x, least, most]);
    // Where it halves, padding lies at the right and below.
    const pads = (stride: number): number[] => (stride === 2 ? [0, 0, 1, 1] : [1, 1, 1, 1]);
    const full = (x: string, name: string, bias: string, stride: number): string => {
      const { shape, values } = convolution(of(name), false);
      const inputs = [x, net.constant(shape, values), net.constant([shape[0]], of(bias).values)];
      return relu6(net.add('Conv', inputs, { strides: [stride, stride], pads: shape[2] === 1 ? [0, 0, 0, 0] : pads(stride) }));
    };
    let x = full('picture', 'conv1/convolution/merged_input', 'conv1_bn/batchnorm_1/sub', 2);
    for (let n = 1; n <= 13; n++) {
      const stride = [2, 4, 6, 12].includes(n) ? 2 : 1;
      const { shape, values } = convolution(of(`conv_dw_${n}/depthwise_kernel`), true);
      const gain = of(`conv_dw_${n}_bn/batchnorm_1/mul`).values;
      const scaled = values.map((v, i) => v * gain[Math.floor(i / 9)]);
      const inputs = [x, net.constant(shape, scaled), net.constant([shape[0]], of(`conv_dw_${n}_bn/batchnorm_1/sub`).values)];
      x = relu6(net.add('Conv', inputs, { strides: [stride, stride], pads: pads(stride), group: shape[0] }));
      x = full(x, `conv_pw_${n}/convolution/merged_input`, `conv_pw_${n}_bn/batchnorm_1/sub`, 1);
    }
    return net.written({ name: 'picture', shape: [1, 3, 224, 224] }, [net.add('Flatten', [net.add('GlobalAveragePool', [x])])]);
  },
};

const DESCRIBERS = { residual, separable };
export type DescriberName = keyof typeof DESCRIBERS;

/** A network that is ready to describe faces. */
export interface FaceDescriber {
  /** @param frame takes the unit frame to the picture. */
  at(picture: Rgb, frame: Similarity): Promise<Descriptor>;
  /** Of a square of its own size: red, green and blue, 0 to 255, row by row. */
  raw(square: Float32Array): Promise<Descriptor>;
}

const loaded = new Map<DescriberName, Promise<FaceDescriber>>();

/** A network that describes faces. Both were made by others and took no part in training ours. @throws NetworkError where networks cannot run. */
export function describer(name: DescriberName): Promise<FaceDescriber> {
  let found = loaded.get(name);
  if (!found) {
    found = load(DESCRIBERS[name]);
    loaded.set(name, found);
    found.catch(() => loaded.delete(name));
  }
  return found;
}

async function load({ side, frame, level, file }: Describer): Promise<FaceDescriber> {
  const { InferenceSession, Tensor } = await import('onnxruntime-node');
  const session = await InferenceSession.create(file(), {
    executionProviders: await executionProviders(),
    ...{ intraOpNumThreads: 1, interOpNumThreads: 1, graphOptimizationLevel: 'all' },
  });
  const [output] = session.outputNames;
  const raw = async (square: Float32Array): Promise<Descriptor> => {
    const planes = new Float32Array(3 * side * side);
    for (let i = 0; i < side * side; i++) for (let c = 0; c < 3; c++) planes[c * side * side + i] = level(square[3 * i + c], c);
    const result = await session.run({ picture: new Tensor('float32', planes, [1, 3, side, side]) });
    const values = Float32Array.from(result[output].data as Float32Array);
    const length = Math.hypot(...values);
    return values.map((v) => v / length);
  };
  // The network's input, in parts of the unit frame.
  const scale = 1 / (frame.size * side);
  const place: Similarity = { a: scale, b: 0, x: 0.5 - frame.x * side * scale, y: 0.5 - frame.y * side * scale };
  return { raw, at: (picture, at) => raw(sampledRgb(picture, within(at, place), side)) };
}

/** How far apart two descriptors are: 0 for the same, 2 for opposite ones. */
export function descriptorDistance(a: Descriptor, b: Descriptor): number {
  let dot = 0;
  for (let i = 0; i < a.length; i++) dot += a[i] * b[i];
  return 1 - dot;
}
