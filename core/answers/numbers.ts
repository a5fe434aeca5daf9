/** No value, as answers write it. */
export const orNull = (value: number): number | null => (Number.isNaN(value) ? null : value);
