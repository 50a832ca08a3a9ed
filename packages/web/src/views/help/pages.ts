import { marked, type Tokens } from 'marked'

/** The documentation as it ships with the application, page by page. */

const SOURCES = import.meta.glob<string>('../../../../../docs/*.md', { query: '?raw', import: 'default', eager: true })
const ORDER = [
  'guide',
  'tutorial',
  'how-to',
  'glossary',
  'hooks',
  'save-path',
  'findings',
  'errors',
  'command-line',
  'operations',
  'ci',
  'api',
  'reliability',
  'security',
  'performance',
  'architecture',
]

export interface HelpSection {
  page: string
  /** Of the heading, as in the address; empty for what comes before the first one. */
  anchor: string
  title: string
  text: string
}
export interface HelpPage {
  name: string
  title: string
  html: string
  sections: HelpSection[]
}

const anchorOf = (heading: string): string =>
  heading
    .toLowerCase()
    .replace(/<[^>]*>|`/g, '')
    .replace(/[^\p{L}\p{N}\s/-]/gu, '')
    .trim()
    .replace(/[\s/]+/g, '-')

function read(name: string, source: string): HelpPage {
  const sections: HelpSection[] = []
  const renderer = new marked.Renderer()
  renderer.heading = function ({ tokens, depth, text }: Tokens.Heading) {
    return `<h${depth} id="${anchorOf(text)}">${this.parser.parseInline(tokens)}</h${depth}>`
  }
  // Other pages of the documentation are pages here; what is elsewhere in the repository is no link.
  renderer.link = function ({ href, tokens }: Tokens.Link) {
    const inner = this.parser.parseInline(tokens)
    const page = /^([\w-]+)\.md(#.*)?$/.exec(href)
    if (page) return `<a href="/help/${page[1]!}${page[2] ?? ''}">${inner}</a>`
    return href.startsWith('#') ? `<a href="${href}">${inner}</a>` : inner
  }
  renderer.image = () => ''
  // A long line scrolls, so the block can be reached by keyboard.
  renderer.code = function (token: Tokens.Code) {
    return marked.Renderer.prototype.code.call(this, token).replace('<pre>', '<pre tabindex="0">')
  }
  for (const token of marked.lexer(source)) {
    if (token.type === 'heading')
      sections.push({ page: name, anchor: anchorOf(token.text as string), title: token.text as string, text: '' })
    else if (sections.length > 0) sections.at(-1)!.text += ` ${token.raw}`
  }
  return { name, title: sections[0]?.title ?? name, html: marked.parse(source, { renderer, async: false }), sections }
}

export const PAGES: readonly HelpPage[] = Object.entries(SOURCES)
  .map(([path, source]) => read(/([\w-]+)\.md$/.exec(path)![1]!, source))
  .sort((a, b) => (ORDER.indexOf(a.name) + 1 || 99) - (ORDER.indexOf(b.name) + 1 || 99))

const MOST = 20
/** @returns sections that contain every word, those with it in their title first */
export function search(text: string): HelpSection[] {
  const words = text.toLowerCase().split(/\s+/).filter(Boolean)
  if (words.length === 0) return []
  const found = PAGES.flatMap(({ sections }) => sections).flatMap((section) => {
    const [title, all] = [section.title.toLowerCase(), `${section.title} ${section.text}`.toLowerCase()]
    if (!words.every((word) => all.includes(word))) return []
    return [{ section, rank: words.filter((word) => title.includes(word)).length }]
  })
  return found
    .sort((a, b) => b.rank - a.rank)
    .slice(0, MOST)
    .map(({ section }) => section)
}
