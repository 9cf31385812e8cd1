/** Where a place is, by thirds of the picture. @param x and `y` in fractions of it. */
export function placeWords(x: number, y: number): string {
  const third = (v: number, names: [string, string, string]): string => names[Math.min(2, Math.floor(v * 3))];
  const row = third(y, ['above', '', 'below']);
  return [third(x, ['left', 'middle', 'right']), row].filter(Boolean).join(', ');
}
