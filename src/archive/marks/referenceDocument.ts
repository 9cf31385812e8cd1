/** Where a picture of somebody's face is from, as it was when it was taken. */
export interface ReferenceOrigin {
  /** What its item or its file was called. */
  name: string;
  /** The item it is of; a file from outside has none. */
  item?: string;
  year?: number;
}

/** A picture of a face with its mesh, kept so that faces of the same person may be restored by it. */
export interface KeptReference {
  format: 'wairetic-reference';
  version: 1;
  /** Name the picture is kept under. */
  picture: string;
  /** Pairs of x and y in tenths of the picture's pixels. */
  mesh: number[];
  from: ReferenceOrigin;
}

/** A mesh is kept in tenths of pixels. */
export const TENTHS = 10;

/** What a document says of a reference; undefined where it is none. */
export function referenceIn(bytes: Uint8Array): KeptReference | undefined {
  if (bytes[0] !== 0x7b) return undefined;
  const read = JSON.parse(Buffer.from(bytes).toString()) as Partial<KeptReference>;
  return read.format === 'wairetic-reference' ? (read as KeptReference) : undefined;
}

/** The mesh in the picture's pixels. */
export const meshOf = ({ mesh }: KeptReference): Float32Array => Float32Array.from(mesh, (v) => v / TENTHS);
