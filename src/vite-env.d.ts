/// <reference types="vite/client" />
/// <reference types="vite-plugin-pwa/client" />
declare module '@fontsource-variable/literata'
declare module '@fontsource-variable/literata/wght-italic.css'
declare module '@fontsource-variable/public-sans'
