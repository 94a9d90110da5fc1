import { SaxesParser } from 'saxes'
import { LIMITS } from '../../music/limits'
import { UnusableInput } from '../unusable'

/** An element with its place in the text: `line` counts from 1. */
export interface XmlElement {
  name: string
  attributes: Record<string, string>
  children: XmlElement[]
  text: string
  line: number
  /**
   * Indices into the text: of the `<`, just behind `<name`, of what stands inside (the same twice for an empty
   * element), just behind the element.
   */
  start: number
  nameEnd: number
  innerStart: number
  innerEnd: number
  end: number
}

/**
 * The element tree of a well-formed XML text. Entities other than XML's own five are never expanded: a text
 * that declares or uses one is refused. Throws UnusableInput with the line and column.
 */
export function parseXml(text: string): XmlElement {
  const parser = new SaxesParser({ position: true })
  const open: XmlElement[] = []
  let root: XmlElement | undefined
  let elements = 0
  const here = () => `line ${parser.line}, column ${parser.column + 1}`
  parser.on('error', error => {
    throw new UnusableInput(
      here(),
      `not well-formed XML (${error.message.replace(/^\d+:\d+: /, '').replace(/\.$/, '')})`,
    )
  })
  parser.on('doctype', doctype => {
    if (/<!ENTITY/i.test(doctype))
      throw new UnusableInput(here(), 'the file declares entities of its own, which are not accepted')
  })
  parser.on('opentagstart', tag => {
    if (++elements > LIMITS.xmlElements) throw new UnusableInput(here(), `more than ${LIMITS.xmlElements} elements`)
    if (open.length >= LIMITS.xmlDepth)
      throw new UnusableInput(here(), `elements nested more than ${LIMITS.xmlDepth} deep`)
    const element: XmlElement = {
      name: tag.name,
      attributes: {},
      children: [],
      text: '',
      line: parser.line,
      start: parser.position - 2 - tag.name.length,
      nameEnd: parser.position - 1,
      innerStart: 0,
      innerEnd: 0,
      end: 0,
    }
    const parent = open.at(-1)
    if (parent) parent.children.push(element)
    else root = element
    open.push(element)
  })
  parser.on('attribute', ({ name, value }) => {
    open.at(-1)!.attributes[name] = value
  })
  parser.on('text', piece => {
    const element = open.at(-1)
    if (element) element.text += piece
  })
  parser.on('cdata', piece => {
    open.at(-1)!.text += piece
  })
  parser.on('opentag', () => {
    open.at(-1)!.innerStart = parser.position
  })
  parser.on('closetag', ({ isSelfClosing }) => {
    const element = open.pop()!
    element.end = parser.position
    element.innerEnd = isSelfClosing ? element.end : text.lastIndexOf('<', element.end - 1)
    if (isSelfClosing) element.innerStart = element.end
  })
  parser.write(text).close()
  if (!root) throw new UnusableInput('line 1', 'an XML document was expected')
  return root
}

export const child = (element: XmlElement | undefined, name: string): XmlElement | undefined =>
  element?.children.find(one => one.name === name)

export const children = (element: XmlElement | undefined, name: string): XmlElement[] =>
  element?.children.filter(one => one.name === name) ?? []

/** The trimmed text of a child, cut to what a name may have; '' when it is not there. */
export const textOf = (element: XmlElement | undefined, name: string): string =>
  (child(element, name)?.text ?? '').trim().slice(0, LIMITS.textLength)
