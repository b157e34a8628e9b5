/** A length as people read it: `5:00` or `1:02:03`. */
export function lengthText(seconds: number): string {
  const whole = Math.round(Math.abs(seconds));
  const two = (n: number) => String(n).padStart(2, '0');
  const minutes = Math.floor(whole / 60);
  const text =
    minutes < 60
      ? `${minutes}:${two(whole % 60)}`
      : `${Math.floor(minutes / 60)}:${two(minutes % 60)}:${two(whole % 60)}`;
  return seconds < 0 ? `−${text}` : text;
}
