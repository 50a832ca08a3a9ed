import ts from '#typescript'

const SUSPECT = /import\s*(?:\(|\/[/*])|eval\s*\(|<!--|-->|[#@]\s*source(?:Mapping)?URL/g

/**
 * The sandbox refuses source text that looks like import(), eval() or an HTML comment, even within a string or a comment, and a comment could rename the
 * code in stacks. The syntax tree has shown that there is none in the code: what is in text is written with escapes, what is in a comment is
 * blanked, and operators that look like it are parted.
 * @param code JavaScript
 */
export function evade(code: string): string {
  const suspects = [...code.matchAll(SUSPECT)]
  if (suspects.length === 0) return code
  const source = ts.createSourceFile('x.js', code, ts.ScriptTarget.ES2022, true)
  const texts: [start: number, end: number][] = []
  const comments: [start: number, end: number][] = []
  const look = (node: ts.Node): void => {
    const children = node.getChildren(source)
    if (children.length > 0) return children.forEach(look)
    const start = node.getStart(source)
    if (start > node.pos) comments.push([node.pos, start])
    if (isText(node)) texts.push([start, node.end])
  }
  look(source)
  const lies = (at: number, ranges: readonly [number, number][]) => ranges.some(([start, end]) => at >= start && at < end)
  let evaded = ''
  let done = 0
  for (const { index, 0: suspect } of suspects) {
    evaded += code.slice(done, index)
    if (lies(index, comments)) evaded += suspect.replace(/[^\r\n\u2028\u2029]/g, ' ')
    else if (lies(index, texts)) evaded += escaped(suspect)
    else evaded += suspect === '-->' ? '-- >' : suspect === '<!--' ? '< !--' : suspect
    done = index + suspect.length
  }
  return evaded + code.slice(done)
}

const isText = (node: ts.Node): boolean =>
  ts.isStringLiteral(node) ||
  ts.isRegularExpressionLiteral(node) ||
  ts.isNoSubstitutionTemplateLiteral(node) ||
  ts.isTemplateHead(node) ||
  ts.isTemplateMiddle(node) ||
  ts.isTemplateTail(node)

const escaped = (suspect: string): string =>
  suspect
    .replace(/^import/, '\\x69mport')
    .replace(/^eval/, '\\x65val')
    .replace(/^<!--/, '\\x3c!--')
    .replace(/^-->/, '--\\x3e')
