export { askedInSections, chosenSections, inSectionsOf, sectionChoice, sectionKey, withSection, type Section } from './choices.ts';
export {
  allSections,
  allTogether,
  knownSections,
  namesInSections,
  sectionFaults,
  sectionsOfExhibit,
  sectionsOnPage,
  withSectionsOnPage,
  withWhole,
} from './settings.ts';
export { levelsLeft, placeLeft } from './levels.ts';
