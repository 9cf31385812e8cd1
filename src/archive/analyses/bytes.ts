/** Rasters of an analysis as JSON can hold them. */
export const bytesText = ({ buffer, byteOffset, byteLength }: Uint8Array | Int8Array | Int16Array): string =>
  Buffer.from(buffer, byteOffset, byteLength).toString('base64');

/** Signed bytes of such a text. */
export const signedBytesOf = (text: string): Int8Array<ArrayBuffer> => new Int8Array(bytesOf(text).buffer);

/** The bytes of such a text, in memory of their own. */
export const bytesOf = (text: string): Uint8Array<ArrayBuffer> => Uint8Array.from(Buffer.from(text, 'base64'));
