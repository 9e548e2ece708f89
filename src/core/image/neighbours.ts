/** The pixels around one within the frame, itself among them. */
export function around(j: number, width: number, height: number): number[] {
  const [x, y] = [j % width, Math.floor(j / width)];
  const found: number[] = [];
  for (let v = Math.max(0, y - 1); v <= Math.min(height - 1, y + 1); v++)
    for (let u = Math.max(0, x - 1); u <= Math.min(width - 1, x + 1); u++) found.push(v * width + u);
  return found;
}
