/** Where the authority's certificate is fetched. */
export const CERTIFICATE_PATH = '/half-step-at-home.crt'

/** What is done on each system, once. */
const STEPS = [
  [
    'Android (Chrome)',
    [
      'Tap “Get the certificate” and keep the file.',
      'Open Settings and search for “CA certificate” (under Security, Encryption and credentials, Install a certificate).',
      'Choose “Install anyway” and the file half-step-at-home.crt.',
    ],
  ],
  [
    'iPad and iPhone',
    [
      'Tap “Get the certificate” in Safari and allow the profile.',
      'Settings, General, VPN & Device Management: install the profile.',
      'Settings, General, About, Certificate Trust Settings: switch it on.',
      'These browsers have no MIDI: songs, stairs and Logbook can be read there, and what you play cannot be heard.',
    ],
  ],
  [
    'Windows (Chrome, Edge)',
    [
      'Download the certificate and open it.',
      'Install Certificate, Current User, “Place all certificates in the following store”: Trusted Root Certification Authorities.',
      'Close the browser and open it again.',
    ],
  ],
  [
    'macOS (Chrome)',
    [
      'Download the certificate and open it: Keychain Access takes it.',
      'Find “Half Step at home” there, open Trust, and choose “Always Trust”.',
    ],
  ],
  [
    'Linux (Chrome, Chromium)',
    [
      'Download the certificate.',
      'Browser settings, Privacy and security, Security, Manage certificates, Authorities (or “Installed by you”): import it, for websites.',
    ],
  ],
  ['Firefox on a computer', ['Settings, Privacy & Security, View Certificates, Authorities: import it, for websites.']],
]

const list = items => items.map(item => `<li>${item}</li>`).join('')

/**
 * The page that a tablet opens first: the certificate, its fingerprint, the steps, and the way on. `pageAt`: the
 * address over TLS.
 */
export const welcomePage = ({ pageAt, fingerprint }) => `<!doctype html>
<html lang="en">
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>Half Step on this device</title>
<style>
  :root { color-scheme: light dark; --ink: light-dark(#1f2430, #eceae4); --ground: light-dark(#f6f4ee, #17191f); --line: light-dark(#c9c4b6, #3c414d); --link: light-dark(#1d4f91, #9cc3ff); }
  body { max-width: 42rem; margin: 0 auto; padding: 2rem 1.25rem 4rem; font: 1.125rem/1.55 system-ui, sans-serif; color: var(--ink); background: var(--ground); }
  h1 { font-size: 1.9rem; line-height: 1.2; }
  h2 { font-size: 1.25rem; margin: 2rem 0 .5rem; }
  a { color: var(--link); }
  .way { display: inline-block; padding: .7rem 1.1rem; border: 2px solid currentColor; border-radius: .4rem; font-weight: 600; text-decoration: none; }
  code { overflow-wrap: anywhere; font-size: .95rem; }
  details { border-top: 1px solid var(--line); padding: .6rem 0; }
  summary { cursor: pointer; font-weight: 600; padding: .3rem 0; }
</style>
<h1>Half Step on this device</h1>
<p>A browser gives a page its MIDI keyboards, and keeps practice while the computer is off, only if it trusts where the page comes from. So this device has to know the certificate authority of your house, once.</p>
<h2>1. Get the certificate</h2>
<p><a class="way" href="${CERTIFICATE_PATH}">Get the certificate</a></p>
<p>It is yours, made on your own computer, and its key never leaves it. The computer shows the same fingerprint (SHA-256) as your device does when you install it; if they differ, stop.</p>
<p><code>${fingerprint}</code></p>
<h2>2. Install it</h2>
${STEPS.map(([system, steps]) => `<details><summary>${system}</summary><ol>${list(steps)}</ol></details>`).join('\n')}
<h2>3. Open the program</h2>
<p><a class="way" href="${pageAt}">${pageAt}</a></p>
<p>Sign in with your name and password. If you have no password yet, give yourself one on the page Account at the computer.</p>
<h2>Which browsers hear a keyboard</h2>
<p>Chrome, Edge and other browsers made from Chromium, on computers and Android; Firefox on computers. Safari and every browser on iPad and iPhone have no MIDI.</p>
</html>
`
