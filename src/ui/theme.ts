import { createSystem, defaultConfig, defineConfig } from '@chakra-ui/react'

const pair = (light: string, dusk: string) => ({ value: { base: light, _dark: dusk } })

/** Paper, ink, one moss and one ochre; the dusk theme is the same notebook by lamplight. */
const config = defineConfig({
  globalCss: { 'html, body': { background: 'paper', color: 'ink' } },
  theme: {
    tokens: {
      fonts: {
        heading: { value: "'Literata Variable', Georgia, serif" },
        body: { value: "'Public Sans Variable', system-ui, sans-serif" },
      },
    },
    semanticTokens: {
      colors: {
        paper: pair('#f4eee0', '#23221e'),
        sheet: pair('#fbf7ec', '#2c2a25'),
        ink: pair('#2b2a24', '#ece5d3'),
        faded: pair('#5c584b', '#b9b19c'),
        line: pair('#d9cfb7', '#4a463c'),
        moss: pair('#47662b', '#a9c67e'),
        onMoss: pair('#ffffff', '#1c1f14'),
        ochre: pair('#94560f', '#e5ac62'),
        wash: pair('#e9e1cc', '#38352e'),
        alarm: pair('#9b2c1f', '#f0a090'),
        bg: { DEFAULT: { value: '{colors.sheet}' }, panel: { value: '{colors.sheet}' } },
        fg: { DEFAULT: { value: '{colors.ink}' }, muted: { value: '{colors.faded}' } },
        border: { DEFAULT: { value: '{colors.line}' } },
      },
    },
  },
})

export const system = createSystem(defaultConfig, config)
