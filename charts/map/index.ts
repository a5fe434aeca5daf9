export { placesOf } from './map-chart.ts';
