interface Props {
  x: number;
  y: number;
  width: number;
  text: string;
}

/** The value under the pointer, written out beside it and kept within the lane. */
export function Readout({ x, y, width, text }: Props) {
  const boxWidth = text.length * 6.7 + 10;
  const left = Math.min(Math.max(2, x + 9), Math.max(2, width - boxWidth - 2));
  const top = y > 30 ? y - 25 : y + 9;
  return (
    <g className="pointer-events-none" transform={`translate(${left} ${top})`}>
      <rect width={boxWidth} height={17} rx={3} fill="var(--ink)" />
      <text
        x={5}
        y={12.2}
        fill="var(--sheet)"
        fontSize={11}
        fontFamily="var(--font-mono)"
        xmlSpace="preserve"
      >
        {text}
      </text>
    </g>
  );
}
