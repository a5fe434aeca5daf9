import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import type { Reading } from '@bold-compass/core/imports';
import { ApiError } from '../problems/index.ts';
import type { OnProgress } from './row.ts';

/**
 * A text file in pieces, decoded, with one kind of line end and without a byte-order mark. Throws ApiError
 * `file-invalid` where the text is not in its encoding.
 */
export async function* textChunks(path: string, encoding: Reading['encoding'], onProgress?: OnProgress): AsyncGenerator<string> {
  const { size } = await stat(path);
  const decoder = new TextDecoder(encoding, { fatal: true });
  let read = 0;
  let heldBack = '';
  const decode = (chunk?: Buffer): string => {
    try {
      return decoder.decode(chunk, { stream: chunk !== undefined });
    } catch {
      throw new ApiError('file-invalid', `This file is not all ${encoding.toUpperCase()}. Choose another encoding at the left.`);
    }
  };
  for await (const chunk of createReadStream(path, { highWaterMark: 1 << 19 }) as AsyncIterable<Buffer>) {
    read += chunk.length;
    let text = heldBack + decode(chunk);
    // A carriage return at the end may be the first half of a line end.
    heldBack = text.endsWith('\r') ? '\r' : '';
    if (heldBack) text = text.slice(0, -1);
    yield text.includes('\r') ? text.replaceAll(/\r\n?/g, '\n') : text;
    onProgress?.(read / size);
  }
  const rest = heldBack.replace('\r', '\n') + decode();
  if (rest !== '') yield rest;
}
