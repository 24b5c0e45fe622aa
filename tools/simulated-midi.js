// A simulated MIDI keyboard, in place of a device: it answers navigator.requestMIDIAccess with one
// input, and plays what it is sent as "nest-crate:simulated-midi" events. An event without details
// plays a chord and a short line, so that one hears the device at once.
(() => {
  const input = { name: "Simulated keyboard", onmidimessage: null };
  const access = { inputs: new Map([["simulated", input]]), onstatechange: null };
  Object.defineProperty(navigator, "requestMIDIAccess", {
    configurable: true,
    value: () => Promise.resolve(access),
  });

  const send = (...bytes) => input.onmidimessage?.({ data: new Uint8Array(bytes) });
  const play = (note, velocity, atMs, holdMs) => {
    setTimeout(() => send(0x90, note, velocity), atMs);
    setTimeout(() => send(0x80, note, 0), atMs + holdMs);
  };
  const demonstration = [
    [48, 100, 0, 500],
    [55, 90, 0, 500],
    [60, 80, 0, 500],
    [60, 100, 800, 150],
    [62, 100, 1000, 150],
    [64, 100, 1200, 300],
  ];
  addEventListener("nest-crate:simulated-midi", ({ detail }) => {
    for (const notes of detail ?? demonstration) play(...notes);
  });
})();
