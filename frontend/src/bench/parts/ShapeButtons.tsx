const SHAPES = ["Sine", "Triangle", "Sawtooth", "Pulse"] as const;

function cycle(shape: number, width: number, x: number): number {
  switch (shape) {
    case 0:
      return Math.sin(2 * Math.PI * x);
    case 1:
      return (2 / Math.PI) * Math.asin(Math.sin(2 * Math.PI * x));
    case 2:
      return 2 * (((x + 0.5) % 1) - 0.5);
    default:
      return x % 1 < width ? 1 : -1;
  }
}

function picture(shape: number, width: number): string {
  return Array.from({ length: 81 }, (_, n) => {
    const x = n / 80;
    return `${n === 0 ? "M" : "L"}${(4 + x * 40).toFixed(1)} ${(14 - cycle(shape, width, x * 1.5) * 8).toFixed(1)}`;
  }).join("");
}

interface Props {
  shape: number;
  width: number;
  onShape: (shape: number, name: string) => void;
}

/** The four shapes of a tone as pictures of their cycle. */
export function ShapeButtons({ shape, width, onShape }: Props) {
  return (
    <div className="mb-1 grid grid-cols-4 gap-1.5" role="group" aria-label="Shape">
      {SHAPES.map((name, index) => (
        <button
          key={name}
          type="button"
          title={name}
          aria-label={name}
          aria-pressed={shape === index}
          onClick={() => onShape(index, name.toLowerCase())}
          className={`rounded-control border py-0.5 ${shape === index ? "border-ink bg-sheet text-ink" : "border-line-strong bg-sheet text-ink-3"}`}
        >
          <svg viewBox="0 0 48 28" className="h-7 w-full" aria-hidden>
            <path
              d={picture(index, width)}
              fill="none"
              stroke="currentColor"
              strokeWidth={shape === index ? 2 : 1.4}
            />
          </svg>
        </button>
      ))}
    </div>
  );
}
