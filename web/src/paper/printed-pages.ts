import { printedPagesSchema, type ExportRequest, type PrintedPages } from '@bold-compass/core/exports';
import type { PDFDocumentProxy } from 'pdfjs-dist';
import workerAddress from 'pdfjs-dist/legacy/build/pdf.worker.min.mjs?url';
import { ask } from '../api/client.ts';

/** What is asked for pages: an export of everything, as it is printed. */
export type PagesRequest = Omit<Partial<ExportRequest>, 'format'> & { report: string };

export const printedPages = (request: PagesRequest, signal?: AbortSignal): Promise<PrintedPages> =>
  ask(printedPagesSchema, 'POST', '/exports/pages', { ...request, format: 'pdf' }, signal);

const bytesOf = ({ pdf }: Pick<PrintedPages, 'pdf'>): Uint8Array<ArrayBuffer> => Uint8Array.from(atob(pdf), (sign) => sign.charCodeAt(0));

/** Opens pages to be drawn. The library comes with the first of them. */
export async function openPages(pages: PrintedPages): Promise<PDFDocumentProxy> {
  const { getDocument, GlobalWorkerOptions } = await import('pdfjs-dist/legacy/build/pdf.mjs');
  GlobalWorkerOptions.workerSrc = workerAddress;
  return getDocument({ data: bytesOf(pages), isEvalSupported: false, verbosity: 0 }).promise;
}

/** How long a printed page stays where the browser prints it from, in milliseconds: browsers do not say when printing ends. */
const KEPT = 10 * 60_000;

/** Opens the browser's dialog for printing over pages. */
export function print(pages: PrintedPages): void {
  const address = URL.createObjectURL(new Blob([bytesOf(pages)], { type: 'application/pdf' }));
  const frame = document.createElement('iframe');
  frame.title = 'Pages to print';
  frame.style.display = 'none';
  frame.addEventListener('load', () => frame.contentWindow?.print());
  frame.src = address;
  document.body.append(frame);
  setTimeout(() => {
    frame.remove();
    URL.revokeObjectURL(address);
  }, KEPT);
}
