/** How far work is, as one reads it: how many, how quickly, and how long it will take. */
export function progressWords(work: { done: number; of: number; seconds: number }): string {
  const { done, of, seconds } = work;
  if (of === 0) return "beginning";
  const count = `${done} of ${of}`;
  // The first few say little of how long the others will take.
  if (done < 2 || seconds < 1) return count;
  const rate = done / seconds;
  const speed =
    rate >= 10
      ? `${rate.toFixed(0)} a second`
      : rate >= 1
        ? `${rate.toFixed(1)} a second`
        : `${(rate * 60).toFixed(0)} a minute`;
  return `${count} · ${speed} · ${timeWords((of - done) / rate)} left`;
}

export function timeWords(seconds: number): string {
  if (seconds < 60) return `${Math.ceil(seconds)} s`;
  const minutes = Math.floor(seconds / 60);
  if (minutes < 60) return `${minutes} min ${Math.round(seconds - 60 * minutes)} s`;
  return `${Math.floor(minutes / 60)} h ${minutes % 60} min`;
}
