import { child, children, textOf, type XmlElement } from './xml'

interface Words {
  text: string
  type: string
  justify: string
  sizePt: number
}

/**
 * Title and composer as they are printed above the music; empty where that cannot be told. By their `<credit-type>`,
 * or, where a score gives its words no types, by where engravers set them on the first page (common practice): the
 * title is centred and larger than everything else, the composer stands at the right. (MusicXML 4.0, `<credit>`.)
 */
export function creditsOf(root: XmlElement): { title: string; composer: string } {
  const words = children(root, 'credit')
    .filter(credit => (credit.attributes.page ?? '1') === '1')
    .map((credit): Words => {
      const first = child(credit, 'credit-words')
      const { justify = '', halign = justify, 'font-size': size = '' } = first?.attributes ?? {}
      return {
        text: textOf(credit, 'credit-words').replaceAll(/\s+/g, ' '),
        type: textOf(credit, 'credit-type'),
        justify: halign,
        sizePt: Number(size) || 0,
      }
    })
    .filter(({ text }) => text !== '')
  const typed = (type: string) => words.find(one => one.type === type)?.text ?? ''
  const plain = words.filter(one => one.type === '')
  const [largest, next] = plain.toSorted((a, b) => b.sizePt - a.sizePt)
  const printed = largest?.justify === 'center' && largest.sizePt > (next?.sizePt ?? 0) ? largest : undefined
  const atRight = plain.filter(one => one.justify === 'right')
  return {
    title: typed('title') || (printed?.text ?? ''),
    // Two at the right are composer and arranger, and which is which is not said.
    composer: typed('composer') || (printed && atRight.length === 1 ? atRight[0]!.text : ''),
  }
}
