// Prints what the front end says, as JSON: the texts between tags, and those in attributes and templates, in which …
// stands for what is filled in.
import { createRequire } from 'node:module'
import { readdirSync, readFileSync } from 'node:fs'
import { join, basename, dirname } from 'node:path'

const ts = createRequire(new URL('../web/package.json', import.meta.url))('typescript')

const files = readdirSync('web/src', { recursive: true })
  .map((f) => join('web/src', f))
  .filter((f) => /\.tsx?$/.test(f) && !/\.gen\.ts$|\.d\.ts$/.test(f))
  .sort()

const silent = new Set(['className', 'variant', 'size', 'd', 'points', 'viewBox', 'to', 'href', 'key', 'style', 'type', 'accept', 'id', 'as'])
const out = []
for (const name of files) {
  const source = ts.createSourceFile(name, readFileSync(name, 'utf8'), ts.ScriptTarget.Latest, true, ts.ScriptKind.TSX)
  const add = (text) => out.push({ room: dirname(name), of: basename(name), text: text.replace(/\s+/g, ' ').trim() })
  const visit = (node) => {
    if (ts.isImportDeclaration(node) || ts.isExportDeclaration(node) || ts.isTypeNode(node)) return
    if (ts.isJsxAttribute(node) && silent.has(node.name.getText())) return
    if (ts.isCallExpression(node) && /^api\./.test(node.expression.getText())) return node.arguments.slice(1).forEach(visit)
    if (ts.isJsxText(node)) add(node.text)
    else if (ts.isStringLiteral(node) || ts.isNoSubstitutionTemplateLiteral(node)) add(node.text)
    else if (ts.isTemplateExpression(node)) add(node.head.text + node.templateSpans.map((s) => '…' + s.literal.text).join(''))
    ts.forEachChild(node, visit)
  }
  visit(source)
}
process.stdout.write(JSON.stringify(out))
