import '@fontsource-variable/literata'
import '@fontsource-variable/literata/wght-italic.css'
import '@fontsource-variable/public-sans'
import './notebook.css'
import './params/params.css'
import './field/hand.css'
import { ChakraProvider } from '@chakra-ui/react'
import { StrictMode } from 'react'
import { createRoot } from 'react-dom/client'
import { App } from './app.tsx'
import { keepForOffline } from './new-version.ts'
import { Boundary } from './parts/boundary.tsx'
import { system } from './theme.ts'
import { startTheme } from './theme-mode.ts'

startTheme()
const root = document.getElementById('root')
if (root)
  createRoot(root).render(
    <StrictMode>
      <ChakraProvider value={system}>
        <Boundary>
          <App />
        </Boundary>
      </ChakraProvider>
    </StrictMode>,
  )
if (import.meta.env.PROD) keepForOffline()
