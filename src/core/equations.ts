/**
 * Solves linear equations in place, the right side last in each row (Gauss and Jordan); an unknown that no row holds to is nought.
 */
export function solvedEquations(matrix: number[][]): number[] {
  const n = matrix.length;
  for (let c = 0; c < n; c++) {
    const pivot = matrix.slice(c).reduce((best, row, i) => (Math.abs(row[c]) > Math.abs(matrix[best][c]) ? c + i : best), c);
    [matrix[c], matrix[pivot]] = [matrix[pivot], matrix[c]];
    if (Math.abs(matrix[c][c]) < 1e-9) continue;
    for (let r = 0; r < n; r++) {
      if (r === c) continue;
      const by = matrix[r][c] / matrix[c][c];
      for (let k = c; k <= n; k++) matrix[r][k] -= by * matrix[c][k];
    }
  }
  return matrix.map((row, i) => (Math.abs(row[i]) < 1e-9 ? 0 : row[n] / row[i]));
}
