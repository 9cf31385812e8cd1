import type { ScanReading, StreamInfo } from '../core';

/** The stream with the fields that were measured, where the measuring is sure enough. */
export function withMeasured(stream: StreamInfo, m: ScanReading | undefined): StreamInfo {
  if (!m || m.scan === 'still' || m.scan === 'unknown' || m.scanConfidence < 0.6) return stream;
  return { ...stream, fieldOrder: m.scan === 'progressive' ? 'progressive' : m.fieldOrder };
}
