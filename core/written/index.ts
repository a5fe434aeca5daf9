export { bindParameters, parameterNames, type BoundText } from './parameters.ts';
