// In this order, for most browsers name others that they are like.
const BROWSERS: [RegExp, string][] = [
  [/Edg\//, "Edge"],
  [/OPR\//, "Opera"],
  [/Firefox\//, "Firefox"],
  [/Chrom(e|ium)\//, "Chromium"],
  [/Safari\//, "Safari"],
];
const SYSTEMS: [RegExp, string][] = [
  [/Android/, "Android"],
  [/iPhone|iPad/, "iOS"],
  [/Windows/, "Windows"],
  [/Mac OS X/, "macOS"],
  [/Linux/, "Linux"],
];

const first = (list: [RegExp, string][], text: string) =>
  list.find(([pattern]) => pattern.test(text))?.[1];

/** What a browser says of itself, in two words. */
export function deviceName(userAgent: string): string {
  const browser = first(BROWSERS, userAgent) ?? (userAgent.split(/[ /]/)[0] || "Unknown browser");
  const system = first(SYSTEMS, userAgent);
  return system ? `${browser} on ${system}` : browser;
}
