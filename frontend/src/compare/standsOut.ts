/**
 * Whether a value lies far from the middle half of others: by more than one and a half times its
 * width (Tukey, Exploratory Data Analysis, 1977).
 */
export function standsOut(value: number, low: number, high: number): "above" | "below" | null {
  const reach = 1.5 * (high - low);
  if (value > high + reach) return "above";
  return value < low - reach ? "below" : null;
}
