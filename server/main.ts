import { fileURLToPath } from 'node:url'
import { createApp } from './app.ts'

const port = Number(process.env.PORT ?? 4180)
// Only this machine is served unless another address is asked for on purpose.
const host = process.env.HOST ?? '127.0.0.1'
const folder = fileURLToPath(new URL('../dist', import.meta.url))

if (!Number.isInteger(port) || port < 0 || port > 65535) {
  console.error(`PORT must be a whole number from 0 to 65535, got ${process.env.PORT}`)
  process.exit(1)
}

const server = createApp(folder).listen(port, host, () => {
  const address = server.address()
  const actual = typeof address === 'object' && address ? address.port : port
  console.log(`Wayward Meadow is at http://${host}:${actual}/`)
})
server.on('error', (error: NodeJS.ErrnoException) => {
  console.error(
    error.code === 'EADDRINUSE'
      ? `Port ${port} is taken by another program; start with PORT=${port + 1} npm start.`
      : `The server did not start: ${error.message}`,
  )
  process.exit(1)
})
