import { brotliCompressSync, constants, gzipSync } from "node:zlib";
import type { Plugin } from "vite";

/** What is text, and so becomes much smaller; fonts and pictures are packed already. */
const TEXT = /\.(js|css|html|svg)$/;

/** Smaller ones gain nothing: they fit into one packet anyway. */
const LEAST_BYTES = 1000;

/**
 * Writes each text file a second and third time, packed as hard as can be, so that the server never
 * has to: `name.br` (brotli, RFC 7932) and `name.gz` (gzip, RFC 1952).
 */
export const compressed = (): Plugin => ({
  name: "compressed",
  apply: "build",
  enforce: "post",
  generateBundle: {
    order: "post",
    handler(_, bundle) {
      for (const file of Object.values(bundle)) {
        const bytes = Buffer.from(file.type === "chunk" ? file.code : file.source);
        if (!TEXT.test(file.fileName) || bytes.length < LEAST_BYTES) continue;
        const quality = { [constants.BROTLI_PARAM_QUALITY]: constants.BROTLI_MAX_QUALITY };
        const emit = (ending: string, packed: Uint8Array) =>
          this.emitFile({ type: "asset", fileName: file.fileName + ending, source: packed });
        emit(".br", brotliCompressSync(bytes, { params: quality }));
        emit(".gz", gzipSync(bytes, { level: 9 }));
      }
    },
  },
});
