/** The guide: the pages of docs/guide, as they stand in the repository, with their pictures. */
import MarkdownIt from 'markdown-it'

const texts = import.meta.glob<string>('../../../docs/guide/*.md', { query: '?raw', import: 'default', eager: true })
const pictures = import.meta.glob<string>('../../../docs/screenshots/*.png', {
  query: '?url', import: 'default', eager: true,
})

const fileName = (path: string) => path.slice(path.lastIndexOf('/') + 1)
const addresses = new Map(Object.entries(pictures).map(([path, address]) => [fileName(path), address]))

const markdown = new MarkdownIt({ html: false })
const plain = markdown.renderer.rules.image
markdown.renderer.rules.image = (tokens, at, options, env, self) => {
  const token = tokens[at]
  token?.attrSet('src', addresses.get(fileName(token.attrGet('src') ?? '')) ?? '')
  token?.attrSet('loading', 'lazy')
  return plain?.(tokens, at, options, env, self) ?? ''
}

export interface Page {
  /** How it stands in the address. */
  name: string
  title: string
  html: string
}

/** In the order of their numbers. */
export const PAGES: Page[] = Object.entries(texts)
  .sort(([one], [other]) => one.localeCompare(other, undefined, { numeric: true }))
  .map(([path, text]) => ({
    name: fileName(path).replace(/^\d+-|\.md$/g, ''),
    title: /^# (.+)$/m.exec(text)?.[1] ?? '',
    html: markdown.render(text),
  }))
