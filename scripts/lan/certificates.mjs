import { X509Certificate } from 'node:crypto'
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { isIP } from 'node:net'
import { join } from 'node:path'
import selfsigned from 'selfsigned'

const DAY_MS = 86_400_000
/**
 * How long the house's own authority is good for, and a certificate that it gives: no longer than every browser takes
 * one from an authority that was installed by hand.
 */
const DAYS = { authority: 10 * 365, server: 397 }
/** A certificate with fewer days left is replaced. */
const MIN_LEFT_DAYS = 60

/**
 * The certificate authority of this house, made at first use and kept in the folder, and a certificate by it for these
 * host names and addresses. Gives the authority's certificate, the server's key and certificate (PEM), and the
 * authority's fingerprint (SHA-256, as browsers and systems show it).
 */
export async function certificatesFor(hosts, folder, now = new Date()) {
  mkdirSync(folder, { recursive: true, mode: 0o700 })
  const until = days => new Date(now.getTime() + days * DAY_MS)
  const authority = await kept(
    folder,
    'authority',
    certificate => isGood(certificate, now, []),
    async () =>
      await selfsigned.generate(
        [{ name: 'commonName', value: `Half Step at home (${now.toISOString().slice(0, 10)})` }],
        {
          keyType: 'ec',
          algorithm: 'sha256',
          notBeforeDate: now,
          notAfterDate: until(DAYS.authority),
          extensions: [
            { name: 'basicConstraints', cA: true, pathLenConstraint: 0, critical: true },
            { name: 'keyUsage', keyCertSign: true, cRLSign: true, critical: true },
          ],
        },
      ),
  )
  const server = await kept(
    folder,
    'server',
    certificate => isGood(certificate, now, hosts) && certificate.verify(new X509Certificate(authority.cert).publicKey),
    async () =>
      await selfsigned.generate([{ name: 'commonName', value: hosts[0] }], {
        keyType: 'ec',
        algorithm: 'sha256',
        notBeforeDate: now,
        notAfterDate: until(DAYS.server),
        ca: { key: authority.key, cert: authority.cert },
        extensions: [
          { name: 'basicConstraints', cA: false, critical: true },
          { name: 'keyUsage', digitalSignature: true, critical: true },
          { name: 'extKeyUsage', serverAuth: true },
          {
            name: 'subjectAltName',
            altNames: hosts.map(host => (isIP(host) ? { type: 7, ip: host } : { type: 2, value: host })),
          },
        ],
      }),
  )
  return {
    authority: authority.cert,
    key: server.key,
    cert: server.cert,
    fingerprint: new X509Certificate(authority.cert).fingerprint256,
  }
}

/** A stored key and certificate while valid, new ones otherwise. */
async function kept(folder, name, isStillGood, make) {
  const [keyFile, certFile] = [join(folder, `${name}.key`), join(folder, `${name}.crt`)]
  if (existsSync(keyFile) && existsSync(certFile)) {
    const [key, cert] = [readFileSync(keyFile, 'utf8'), readFileSync(certFile, 'utf8')]
    if (isStillGood(new X509Certificate(cert))) return { key, cert }
  }
  const { private: key, cert } = await make()
  writeFileSync(keyFile, key, { mode: 0o600 })
  writeFileSync(certFile, cert)
  return { key, cert }
}

function isGood(certificate, now, hosts) {
  const leftMs = new Date(certificate.validTo).getTime() - now.getTime()
  return (
    leftMs > MIN_LEFT_DAYS * DAY_MS &&
    hosts.every(host => (isIP(host) ? certificate.checkIP(host) : certificate.checkHost(host)) !== undefined)
  )
}
