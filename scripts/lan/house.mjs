import { createServer as createHttp } from 'node:http'
import { createServer as createHttps } from 'node:https'
import { hostname, networkInterfaces } from 'node:os'
import { createProxyServer } from 'httpxy'
import QRCode from 'qrcode'
import { fail, say } from '../log.mjs'
import { certificatesFor } from './certificates.mjs'
import { CERTIFICATE_PATH, welcomePage } from './welcome.mjs'

/** Where tablets find it; the page that explains the certificate has the next port. */
const USUAL_PORT = 3443

/** The addresses of this computer in its own network. */
const ownAddresses = () =>
  Object.values(networkInterfaces())
    .flat()
    .filter(one => one.family === 'IPv4' && !one.internal)
    .map(one => one.address)

/**
 * Serves the application at `address` (on loopback) to the house, over TLS with a certificate of the house's own
 * authority, and beside it over plain HTTP the page that offers the authority's certificate. Gives `tell`, which prints
 * how to get there, and `stop`.
 */
export async function serveTheHouse({ address, folder, port = USUAL_PORT }) {
  const addresses = ownAddresses()
  if (addresses.length === 0) fail('--lan: this computer has no address in a network that another device could reach.')
  const name = hostname()
    .toLowerCase()
    .replace(/\.local$/, '')
  const hosts = [...addresses, name, `${name}.local`, 'localhost', '127.0.0.1']
  const { authority, key, cert, fingerprint } = await certificatesFor(hosts, folder)
  const pageAt = `https://${addresses[0]}:${port}`
  const welcomeAt = `http://${addresses[0]}:${port + 1}`

  // The Host header is kept, so that a page's own requests are recognised; the client's address is added
  // (X-Forwarded-For), so that nobody on the network passes for a local user.
  const proxy = createProxyServer({ target: address, xfwd: true })
  const front = createHttps({ key, cert }, (request, response) => {
    // Only what this front says itself counts.
    for (const header of Object.keys(request.headers))
      if (header.startsWith('x-forwarded-') || header === 'forwarded') delete request.headers[header]
    proxy.web(request, response).catch(() => {
      if (!response.headersSent) response.writeHead(503, { 'content-type': 'text/plain', 'retry-after': '2' })
      response.end('Half Step is starting again; please try in a moment.\n')
    })
  })
  const welcome = createHttp((request, response) => {
    if (request.url === CERTIFICATE_PATH)
      return void response
        .writeHead(200, {
          'content-type': 'application/x-x509-ca-cert',
          'content-disposition': 'attachment; filename="half-step-at-home.crt"',
        })
        .end(authority)
    response
      .writeHead(200, { 'content-type': 'text/html; charset=utf-8', 'cache-control': 'no-store' })
      .end(welcomePage({ pageAt, fingerprint }))
  })
  await listening(front, port)
  await listening(welcome, port + 1)
  return {
    pageAt,
    welcomeAt,
    fingerprint,
    tell: async () => {
      say(
        `for a tablet in this house: open ${welcomeAt} there once and install the certificate; after that the program is at ${pageAt}`,
      )
      process.stdout.write(`${await QRCode.toString(welcomeAt, { type: 'terminal', small: true })}\n`)
      say(`the certificate's fingerprint (SHA-256): ${fingerprint}`)
      say('you sign in there with a name and a password: give yourself one on the page Account of this computer')
    },
    stop: async () => {
      await Promise.all(
        [front, welcome].map(async server => {
          const closed = new Promise(resolve => server.close(resolve))
          server.closeAllConnections()
          await closed
        }),
      )
    },
  }
}

async function listening(server, port) {
  await new Promise(resolve => {
    server.once('error', error =>
      fail(
        `--lan-port: port ${port} cannot be used (${error.code === 'EADDRINUSE' ? 'another program has it' : error.message}).`,
      ),
    )
    server.listen(port, '0.0.0.0', resolve)
  })
}
