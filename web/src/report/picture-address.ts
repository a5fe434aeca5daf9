import { assetId } from '@bold-compass/core/model';

/** Where a picture of a report is fetched from; those that the document holds itself are their own address. */
export function pictureAddress(report: string, source: string): string {
  const id = assetId(source);
  return id === null ? source : `/api/reports/${encodeURIComponent(report)}/pictures/${id}`;
}
