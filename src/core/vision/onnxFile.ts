/**
 * Writes networks whose weights packages carry in other formats as ONNX (onnx.proto, version 3 of its binary form), so that they run in the runtime that
 * runs ours.
 */

/** Bytes of protocol buffers' wire format: fields by their numbers. */
class Message {
  private readonly parts: Uint8Array[] = [];

  /** A whole number. */
  number(field: number, value: number): this {
    this.parts.push(varint(field << 3), varint(value));
    return this;
  }

  /** A 32-bit float. */
  float(field: number, value: number): this {
    this.parts.push(varint((field << 3) | 5), new Uint8Array(Float32Array.of(value).buffer));
    return this;
  }

  /** Words, bytes or another message. */
  bytes(field: number, value: string | Uint8Array | Message): this {
    const bytes = typeof value === 'string' ? new TextEncoder().encode(value) : value instanceof Message ? value.written() : value;
    this.parts.push(varint((field << 3) | 2), varint(bytes.length), bytes);
    return this;
  }

  written(): Uint8Array {
    const out = new Uint8Array(this.parts.reduce((sum, { length }) => sum + length, 0));
    let at = 0;
    for (const part of this.parts) {
      out.set(part, at);
      at += part.length;
    }
    return out;
  }
}

function varint(value: number): Uint8Array {
  const out: number[] = [];
  let left = value;
  do {
    out.push((left % 128) | (left >= 128 ? 128 : 0));
    left = Math.floor(left / 128);
  } while (left > 0);
  return Uint8Array.from(out);
}

/** Attributes of an operation: whole numbers, lists of them, or floats as `{ float }`. */
export type Attributes = Record<string, number | number[] | { float: number }>;

/** Values of attributes and tensors by their types in onnx.proto. */
const FLOAT = 1,
  INT64 = 7;
const A_FLOAT = 1,
  A_INT = 2,
  A_INTS = 7;

/** A network that is being written. Values are named; operations give a value. */
export class OnnxFile {
  private readonly nodes: Message[] = [];
  private readonly weights: Message[] = [];
  private count = 0;

  /** A constant of floats. @returns its name. */
  constant(shape: number[], values: Float32Array): string {
    return this.initial(shape, FLOAT, new Uint8Array(values.buffer, values.byteOffset, values.byteLength));
  }

  /** A constant list of whole numbers. */
  integers(values: number[]): string {
    return this.initial([values.length], INT64, new Uint8Array(BigInt64Array.from(values.map(BigInt)).buffer));
  }

  private initial(shape: number[], type: number, raw: Uint8Array): string {
    const name = `w${this.count++}`;
    const tensor = new Message();
    for (const extent of shape) tensor.number(1, extent);
    this.weights.push(tensor.number(2, type).bytes(8, name).bytes(9, raw));
    return name;
  }

  /** An operation of ONNX. @returns the name of what it gives. */
  add(operation: string, inputs: string[], attributes: Attributes = {}): string {
    const name = `v${this.count++}`;
    const node = new Message();
    for (const input of inputs) node.bytes(1, input);
    node.bytes(2, name).bytes(4, operation);
    for (const [key, value] of Object.entries(attributes)) node.bytes(5, attribute(key, value));
    this.nodes.push(node);
    return name;
  }

  /** The file. @param input name and shape of what the network reads; `outputs` what it answers. */
  written(input: { name: string; shape: number[] }, outputs: string[]): Uint8Array {
    const graph = new Message();
    for (const node of this.nodes) graph.bytes(1, node);
    graph.bytes(2, 'network');
    for (const tensor of this.weights) graph.bytes(5, tensor);
    graph.bytes(11, valueInfo(input.name, input.shape));
    for (const output of outputs) graph.bytes(12, valueInfo(output));
    return new Message().number(1, 8).bytes(8, new Message().bytes(1, '').number(2, 13)).bytes(7, graph).written();
  }
}

function attribute(name: string, value: Attributes[string]): Message {
  const message = new Message().bytes(1, name);
  if (Array.isArray(value)) {
    for (const v of value) message.number(8, v);
    return message.number(20, A_INTS);
  }
  return typeof value === 'number' ? message.number(3, value).number(20, A_INT) : message.float(2, value.float).number(20, A_FLOAT);
}

function valueInfo(name: string, shape?: number[]): Message {
  const tensor = new Message().number(1, FLOAT);
  if (shape) {
    const dimensions = new Message();
    for (const extent of shape) dimensions.bytes(1, new Message().number(1, extent));
    tensor.bytes(2, dimensions);
  }
  return new Message().bytes(1, name).bytes(2, new Message().bytes(1, tensor));
}
