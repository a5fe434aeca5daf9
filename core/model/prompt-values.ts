/** What prompts stand for in formulas, by their names in small letters; null where nothing is chosen. */
export type PromptValue = { type: 'number' | 'boolean'; value: number | null } | { type: 'text'; value: string | null };
export type PromptValues = Record<string, PromptValue>;
