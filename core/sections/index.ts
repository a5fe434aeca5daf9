export { askedInSections, chosenSections, sectionChoice, sectionKey, withSection, type Section } from './choices.ts';
export {
  allSections,
  knownSections,
  namesInSections,
  sectionFaults,
  sectionsOfExhibit,
  sectionsOnPage,
  withSectionsOnPage,
} from './settings.ts';
export { levelsLeft, placeLeft } from './levels.ts';
