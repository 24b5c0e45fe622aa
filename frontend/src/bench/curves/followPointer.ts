interface Follower {
  /** Distance from where the pointer went down; ``fine`` while Alt is held. */
  move: (dx: number, dy: number, fine: boolean) => void;
  end: (moved: boolean) => void;
}

/** Follow the pointer that went down until it is let go or removed. */
export function followPointer(event: React.PointerEvent, { move, end }: Follower): void {
  const element = event.currentTarget;
  const { clientX, clientY, pointerId } = event;
  let moved = false;
  element.setPointerCapture(pointerId);
  const onMove = (next: Event) => {
    if (!(next instanceof PointerEvent)) return;
    moved = true;
    move(next.clientX - clientX, next.clientY - clientY, next.altKey);
  };
  const onEnd = () => {
    element.removeEventListener("pointermove", onMove);
    element.removeEventListener("pointerup", onEnd);
    element.removeEventListener("pointercancel", onEnd);
    end(moved);
  };
  element.addEventListener("pointermove", onMove);
  element.addEventListener("pointerup", onEnd);
  element.addEventListener("pointercancel", onEnd);
}
