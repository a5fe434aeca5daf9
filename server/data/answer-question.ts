import { EXHIBIT_QUESTIONS, readingOf, sectionList, textValues, type AnswerContext } from '@bold-compass/core/answers';
import type { AnswerQuestion } from './answer-task.ts';
import type { DatasetReader } from './dataset-reader.ts';
import { isVisibleTo } from './visible-paths.ts';

/** Answers a question from a reader's records, in whichever thread. Throws what the question throws. */
export function answerQuestion(question: AnswerQuestion, context: AnswerContext, reader: DatasetReader): Promise<unknown> {
  switch (question.kind) {
    case 'exhibit': {
      const { path, exhibit, asked, request } = question;
      return EXHIBIT_QUESTIONS.find((one) => one.path === path)!.answer(context, exhibit, asked, request);
    }
    case 'values':
      return textValues(context, question.measures, question.asked);
    case 'sections':
      return sectionList(context, question.sections, question.asked, question.own);
    case 'reading':
      return readingOf(context, question.exhibit, question.asked, question.watched, isVisibleTo(reader));
  }
}
