declare module '*.css';
declare module '@fontsource-variable/source-sans-3';
declare module '@fontsource-variable/source-serif-4';
