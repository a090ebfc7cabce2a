export { default as SpellingWorker } from './speller.worker?worker';
