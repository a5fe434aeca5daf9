import { createReadStream } from 'node:fs';
import { open } from 'node:fs/promises';
import type { Reading } from '@bold-compass/core/imports';
import { ApiError } from '../problems/index.ts';

/** The beginning of a file: what formats are known by. */
export interface FileStart {
  path: string;
  fileName: string;
  bytes: Buffer;
  /** The same as text. Throws ApiError `file-invalid` where it is none. */
  text(): Promise<{ encoding: Reading['encoding']; text: string }>;
}

const SNIFFED_BYTES = 64 * 1024;

/** Whether a whole file is UTF-8. */
async function isUtf8(path: string): Promise<boolean> {
  const decoder = new TextDecoder('utf-8', { fatal: true });
  try {
    for await (const chunk of createReadStream(path, { highWaterMark: 1 << 20 })) decoder.decode(chunk as Buffer, { stream: true });
    decoder.decode();
    return true;
  } catch {
    return false;
  }
}

async function encodingOf(path: string, bytes: Buffer): Promise<Reading['encoding']> {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return 'utf-16le';
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return 'utf-16be';
  // Without a mark, zeros at every other byte tell two-byte letters.
  const zeros = [0, 1].map((parity) => bytes.filter((byte, index) => byte === 0 && index % 2 === parity).length);
  if (zeros[1] > bytes.length / 5) return 'utf-16le';
  if (zeros[0] > bytes.length / 5) return 'utf-16be';
  if (bytes.includes(0)) throw new ApiError('file-invalid', 'This is not a text file, nor a spreadsheet. Choose a CSV, XLSX or JSON file.');
  return (await isUtf8(path)) ? 'utf-8' : 'windows-1252';
}

/** The beginning of a file. Throws ApiError `file-invalid` for an empty one. */
export async function startOf(path: string, fileName: string): Promise<FileStart> {
  const file = await open(path);
  let bytes: Buffer;
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(SNIFFED_BYTES), 0, SNIFFED_BYTES, 0);
    bytes = buffer.subarray(0, bytesRead);
  } finally {
    await file.close();
  }
  if (bytes.length === 0) {
    throw new ApiError('file-invalid', 'This file is empty. Choose a file that has a header row and at least one more row.');
  }
  let decoded: ReturnType<FileStart['text']> | undefined;
  const decode = async (): ReturnType<FileStart['text']> => {
    const encoding = await encodingOf(path, bytes);
    return { encoding, text: new TextDecoder(encoding).decode(bytes) };
  };
  return { path, fileName, bytes, text: () => (decoded ??= decode()) };
}
