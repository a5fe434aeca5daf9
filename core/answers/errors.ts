/** A question that cannot be answered as it stands; the message says why and what to do. */
export class AnswerError extends Error {
  constructor(
    readonly code: 'question-invalid' | 'scope-unknown' | 'too-large',
    message: string,
  ) {
    super(message);
    this.name = 'AnswerError';
  }
}
