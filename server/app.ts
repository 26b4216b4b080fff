import express from 'express'
import helmet from 'helmet'
import { join } from 'node:path'

/** The application's pages, served from the folder of a build, under a strict content policy. */
export function createApp(folder: string): express.Express {
  const app = express()
  app.disable('x-powered-by')
  app.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'self'"],
          // WebAssembly is compiled by the mesh lightener; nothing is ever evaluated from text.
          scriptSrc: ["'self'", "'wasm-unsafe-eval'"],
          styleSrc: ["'self'", "'unsafe-inline'"],
          imgSrc: ["'self'", 'data:', 'blob:'],
          connectSrc: ["'self'", 'blob:', 'data:'],
          fontSrc: ["'self'", 'data:'],
          workerSrc: ["'self'", 'blob:'],
          objectSrc: ["'none'"],
          baseUri: ["'none'"],
          formAction: ["'none'"],
          frameAncestors: ["'none'"],
        },
      },
      // Together with the opener policy that is there by default: pages isolated so may share memory with their workers.
      crossOriginEmbedderPolicy: true,
      strictTransportSecurity: false,
    }),
  )
  app.use((request, response, next) => {
    if (request.method === 'GET' || request.method === 'HEAD') return next()
    response.status(405).type('text').send('Only pages are served here.')
  })
  app.use('/assets', express.static(join(folder, 'assets'), { immutable: true, maxAge: '1y', fallthrough: false }))
  app.use(express.static(folder, { maxAge: 0 }))
  // Every address of the application is the same page; the router takes it from there.
  app.get(/^\/(field\/.*|guide)?$/, (_request, response) => {
    response.sendFile('index.html', { root: folder })
  })
  app.use((_request, response) => {
    response.status(404).type('text').send('There is no such page here. Go to / for the gate.')
  })
  app.use((error: unknown, _request: express.Request, response: express.Response, _next: express.NextFunction) => {
    const status = (error as { status?: number }).status ?? 500
    response.status(status).type('text').send(status === 404 ? 'There is no such file here.' : 'That did not work.')
  })
  return app
}
