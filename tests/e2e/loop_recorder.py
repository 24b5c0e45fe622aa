"""Records what the page plays through Web Audio, sample by sample and faster than it sounds.

The page's own audio context is replaced by one that renders offline. The page's timer, which places
hits ahead, is run at each tenth of a second of that context's time; so what is recorded is what the
page's code placed, with nothing left to a sound card.
"""

from __future__ import annotations

import base64

import numpy as np

from tests.e2e.windows import eventually

RATE = 48000

# The page asks for one AudioContext and gets this; its 80 ms timer is kept to be run by hand.
INIT = """
(() => {
  const seconds = __SECONDS__;
  window.AudioContext = function () {
    const made = new OfflineAudioContext(2, 48000 * seconds, 48000);
    made.resumeOffline = made.resume.bind(made);
    made.resume = () => Promise.resolve();
    Object.defineProperty(made, 'baseLatency', { value: 0 });
    window.__offline = made;
    return made;
  };
  const interval = window.setInterval.bind(window);
  window.__placing = [];
  window.__underWay = 0;
  const send = window.fetch.bind(window);
  window.fetch = async (...given) => {
    window.__underWay += 1;
    try {
      const answer = await send(...given);
      // What is made of it is made before the next step.
      window.setTimeout(() => (window.__underWay -= 1), 20);
      return answer;
    } catch (error) {
      window.__underWay -= 1;
      throw error;
    }
  };
  window.setInterval = (run, ms, ...rest) => {
    if (ms !== 80) return interval(run, ms, ...rest);
    window.__placing.push(run);
    return -window.__placing.length;
  };
  const clear = window.clearInterval.bind(window);
  window.clearInterval = (id) => {
    if (typeof id === 'number' && id < 0) window.__placing[-id - 1] = () => undefined;
    else clear(id);
  };
})();
"""

# Runs the context to its end; at given times something is done on the page first.
RENDER = """
async ({ seconds, stepS, actions, keep }) => {
  const audio = window.__offline;
  const steps = Math.floor(seconds / stepS);
  for (let n = 1; n < steps; n++) {
    const at = n * stepS;
    audio.suspend(at).then(async () => {
      for (const action of actions.filter((one) => one.at >= at - stepS && one.at < at)) {
        window.dispatchEvent(new CustomEvent('test-action', { detail: action.name }));
        await new Promise((go) => setTimeout(go, action.waitMs ?? 1500));
      }
      for (const place of window.__placing) place();
      // Plans and hits come over the network, for which a page that plays has a second.
      for (let tries = 0; window.__underWay > 0 && tries < 2000; tries++)
        await new Promise((go) => setTimeout(go, 2));
      for (const place of window.__placing) place();
      audio.resumeOffline();
    });
  }
  const rendered = await audio.startRendering();
  const channels = [0, 1].map((one) => rendered.getChannelData(one));
  if (keep === 'clicks') {
    const found = [];
    const left = channels[0];
    for (let n = 0; n < left.length; n++) if (Math.abs(left[n]) > 0.02) found.push([n, left[n]]);
    return { clicks: found };
  }
  return {
    channels: channels.map((one) => {
      const bytes = new Uint8Array(one.buffer, one.byteOffset, one.byteLength);
      let text = '';
      for (let n = 0; n < bytes.length; n += 32768)
        text += String.fromCharCode(...bytes.subarray(n, n + 32768));
      return btoa(text);
    }),
  };
}
"""

__all__ = ["RATE", "prepare", "recorded", "recorded_clicks", "wait_until_placed"]


def prepare(context, seconds: int) -> None:
    """Let pages of a browser context play into a recording of so many seconds."""
    context.add_init_script(INIT.replace("__SECONDS__", str(seconds)))


def wait_until_placed(page) -> None:
    """Wait until the hits of the first round are there and the page begins to place them."""
    eventually(page, lambda: page.evaluate("() => window.__placing.length > 0"), True)


def _render(page, seconds, actions, keep):
    # A multiple of the block of 128 frames, at which a context can be held.
    step_s = 38 * 128 / RATE
    given = {"seconds": seconds, "stepS": step_s, "actions": actions, "keep": keep}
    return page.evaluate(RENDER, given)


def recorded(page, seconds: float, actions=()) -> np.ndarray:
    """What is heard, as (2, frames)."""
    found = _render(page, seconds, list(actions), "samples")
    return np.stack(
        [np.frombuffer(base64.b64decode(one), dtype=np.float32) for one in found["channels"]]
    ).astype(float)


def recorded_clicks(page, seconds: float) -> list[tuple[int, float]]:
    """The frames of single samples that were heard, with their values."""
    return [tuple(one) for one in _render(page, seconds, [], "clicks")["clicks"]]
