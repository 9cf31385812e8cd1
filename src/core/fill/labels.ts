/**
 * Numbers the pieces of a mask that hang together, across corners too: labels by two passes with joined classes (Rosenfeld and Pfaltz, 1966).
 * @returns for each pixel the number of its piece, from 1 on but not without gaps; 0 outside of the mask.
 */
export function labelsOf(mask: Uint8Array, width: number, height: number): Int32Array {
  const labels = new Int32Array(width * height);
  const parent = [0];
  const root = (n: number): number => {
    while (parent[n] !== n) n = parent[n] = parent[parent[n]];
    return n;
  };
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      if (!mask[i]) continue;
      const beside = [
        x > 0 ? labels[i - 1] : 0,
        y > 0 ? labels[i - width] : 0,
        x > 0 && y > 0 ? labels[i - width - 1] : 0,
        x < width - 1 && y > 0 ? labels[i - width + 1] : 0,
      ].filter((n) => n > 0);
      if (beside.length === 0) {
        labels[i] = parent.length;
        parent.push(parent.length);
        continue;
      }
      const first = Math.min(...beside.map(root));
      for (const n of beside) parent[root(n)] = first;
      labels[i] = first;
    }
  }
  return labels.map(root);
}
