/**
 * Every sentence of the screens, read from their sources: what stands in templates, and the strings in code that are words.
 * What changes is a hole: `{0} pieces on {1} beds`. Prints a JSON list of `[sentence, file]` pairs.
 */
import { readFileSync, readdirSync } from 'node:fs'
import { join, relative } from 'node:path'
import ts from 'typescript'
import { parse } from 'vue/compiler-sfc'

const ROOT = new URL('../src', import.meta.url).pathname
/** attributes that hold no words */
const NO_WORDS =
  /^(class|style|id|key|ref|is|to|href|src|type|name|value|for|role|tag|slot|variant|density|color|icon|size|rel|target|method|width|height|viewBox|d|fill|stroke|transform|points|accept|autocomplete|inputmode|translate|lang|dir|min|max|step|rows|cols|mode|location|scope|data-.*|aria-(live|controls|current|haspopup|expanded|labelledby|describedby|hidden|orientation|sort)|prepend-.*|append-.*|.*-icon|item-.*|content-class|activator|transition|marker-.*|text-anchor|stroke-.*|vector-effect|preserveAspectRatio|enterkeyhint|kind|field|station|tone|look|fill-rule|clip-rule|orient|.*Units|.*Transform)$/
/** what a property or a variable is called that holds a word, even a single one in small letters */
const WORDY =
  /(What|Words?|Text|Name|Label|Says|Title)$|^(text|title|label|name|says|what|words?|hint|placeholder|note|message|told|sentence|subtitle|heading|does|place|why|how|unit|caption|about|advice|where|then|now|short|long|more|state|TITLES?|NAMES?|WORDS?|LABELS?|STATES?|SAYS|ORIGINS?|WAYS|KINDS?|[A-Z_]+)$/
/** a name of a class or a format, a header, a file, a function of a style, the key of a job or a button */
const FOR_PROGRAMS =
  /^(\p{Lu}\w*\p{Lu}\w*|\p{Lu}\w+-\p{Lu}\w+|\w+\.\w+|[\w-]+\(.*|[a-z]+-(job|step|part|face))$/u
const UNITS = new Set('mm cm m g kg h min s ms px rem em vh vw ch fr deg cm² cm³ mm² mm³ N MPa °'.split(' '))

const found = new Map()

/** Keep a sentence; what has no word of two letters or more is none. */
function keep(text, file) {
  const sentence = text
    .replace(/\s+/g, ' ')
    .replace(/^[\s,;:·(–]+/, '')
    .trim()
  if (FOR_PROGRAMS.test(sentence)) return
  const bare = sentence.replace(/\{\d+\}/g, ' ')
  const words = bare.split(/[^\p{L}²³°]+/u).filter((word) => /\p{L}{2}/u.test(word) || word === 'a')
  if (!words.some((word) => !UNITS.has(word))) return
  if (!found.has(sentence)) found.set(sentence, file)
}

function sources(folder) {
  return readdirSync(folder, { withFileTypes: true }).flatMap((entry) => {
    const path = join(folder, entry.name)
    if (entry.isDirectory()) return entry.name === 'words' ? [] : sources(path)
    return /\.(vue|ts)$/.test(entry.name) && !entry.name.endsWith('.d.ts') ? [path] : []
  })
}

/** Whether a string in code is words: a sentence, a capital letter, or one small word in a place for words. */
function isWords(text, wordy) {
  const bare = text.replace(/\{\d+\}/g, '')
  if (!/\p{L}{2}/u.test(bare) || /^(\/|#|\.|--|\[|<|@|https?:|data:|mdi)/.test(text)) return false
  const spoken = /[.?!] |[.?!]$/.test(bare) || (bare.match(/\p{L}{2}[ ,;]/gu) ?? []).length > 2
  const code = /[a-z][A-Z]|[_/\\=<>[\]|]|;(?! )|^--|\w\.\w|\(\w+-\w|^\d+ \d+|\n/.test(bare)
  if (code && (!spoken || text.includes('\n'))) return false
  if (/^\p{Lu}[\p{Ll}]/u.test(text) || / \p{L}/u.test(text) || /\p{L} /u.test(text)) return true
  return wordy && /^[\p{Ll}-]+$/u.test(text)
}

/** Whether a node is given to a property, variable or function that is named for words, through `?:`, `??`, `||`, lists. */
function forWords(node) {
  for (let at = node.parent; at; at = at.parent) {
    if (ts.isTemplateSpan(at)) return true
    if (ts.isArrayLiteralExpression(at) && at.elements.some((one) => ts.isPropertyAccessExpression(one)))
      return true
    if (
      (ts.isPropertyAssignment(at) ||
        ts.isVariableDeclaration(at) ||
        ts.isFunctionDeclaration(at) ||
        ts.isMethodDeclaration(at)) &&
      WORDY.test(at.name?.text ?? '')
    )
      return true
  }
  return false
}

/** Whether a node is given to a function of the same file as what it calls `name`, `text` and the like. */
function givenAsWords(node) {
  const call = node.parent
  if (!ts.isCallExpression(call) || !ts.isIdentifier(call.expression)) return false
  const declared = functionsIn(node.getSourceFile()).get(call.expression.text)
  return WORDY.test(declared?.parameters[call.arguments.indexOf(node)]?.name.getText() ?? '')
}

const functionsOf = new WeakMap()
function functionsIn(tree) {
  if (functionsOf.has(tree)) return functionsOf.get(tree)
  const found = new Map()
  const visit = (node) => {
    if (ts.isFunctionDeclaration(node) && node.name) found.set(node.name.text, node)
    else if (ts.isVariableDeclaration(node) && node.initializer && ts.isArrowFunction(node.initializer))
      found.set(node.name.getText(), node.initializer)
    ts.forEachChild(node, visit)
  }
  visit(tree)
  functionsOf.set(tree, found)
  return found
}

/** Whether a string is a name for the program: a type, a key, what is compared, imported, listened to. */
function isName(node) {
  const at = node.parent
  if (!at) return false
  if (
    ts.isLiteralTypeNode(at) ||
    ts.isImportDeclaration(at) ||
    ts.isExportDeclaration(at) ||
    ts.isCaseClause(at)
  )
    return true
  if (ts.isElementAccessExpression(at) || ts.isTypeNode(at) || ts.isExternalModuleReference?.(at)) return true
  if ((ts.isPropertyAssignment(at) || ts.isPropertySignature(at)) && at.name === node) return true
  if (ts.isBinaryExpression(at) && /^[=!]==?$|^in$|^[<>]=?$/.test(at.operatorToken.getText())) return true
  if (
    ts.isCallExpression(at) &&
    /\b(querySelector\w*|closest|matches|addEventListener|removeEventListener|emit|defineModel|defineEmits|getItem|setItem|console\.\w+|includes|startsWith|endsWith|split|join|kindsOf|inject|provide|setAttribute|getPropertyValue|useLocalStorage|useSessionStorage|getContext|createElement\w*|GET|PUT|POST|DELETE|PATCH|tone|postMessage|import)$/.test(
      at.expression.getText(),
    )
  )
    return true
  return (
    ts.isNewExpression(at) &&
    /^(Error|Worker|URL|BroadcastChannel|CustomEvent|RegExp|EventSource)$/.test(at.expression.getText())
  )
}

/** The words in a piece of code. `shown` tells that it stands in a template where it is read. */
function inCode(code, file, shown = false) {
  const tree = ts.createSourceFile('x.ts', code, ts.ScriptTarget.Latest, true)
  const visit = (node) => {
    if (ts.isStringLiteral(node) || ts.isNoSubstitutionTemplateLiteral(node)) {
      if (!isName(node) && isWords(node.text, shown || forWords(node) || givenAsWords(node)))
        keep(node.text, file)
    } else if (ts.isTemplateExpression(node)) {
      const text = node.head.text + node.templateSpans.map((span, k) => `{${k}}` + span.literal.text).join('')
      if (!isName(node) && isWords(text, false)) keep(text, file)
    }
    ts.forEachChild(node, visit)
  }
  visit(tree)
}

/** The words of a template: runs of text with holes, attributes, and what expressions give. */
function inTemplate(node, file) {
  if (node.props?.some((one) => one.name === 'translate' && one.value?.content === 'no')) return
  for (const attribute of node.props ?? []) {
    if (attribute.type === 6 && attribute.value && !NO_WORDS.test(attribute.name))
      keep(attribute.value.content, file)
    if (attribute.name === 'for' && attribute.forParseResult)
      inCode(`(${attribute.forParseResult.source.content})`, file, true)
    else if (attribute.type === 7 && attribute.exp) {
      const name = attribute.arg?.content ?? attribute.name
      const silent =
        attribute.name === 'on' ||
        attribute.name === 'slot' ||
        attribute.name === 'if' ||
        attribute.name === 'else-if' ||
        attribute.name === 'show' ||
        NO_WORDS.test(name)
      inCode(attribute.name === 'on' ? attribute.exp.content : `(${attribute.exp.content})`, file, !silent)
    }
  }
  let run = ''
  let holes = 0
  const end = () => {
    if (run) keep(run, file)
    run = ''
    holes = 0
  }
  for (const child of node.children ?? []) {
    if (child.type === 2) run += child.content
    else if (child.type === 5) {
      run += `{${holes++}}`
      inCode(`(${child.content.content})`, file, true)
    } else {
      end()
      if (child.type === 1) inTemplate(child, file)
    }
  }
  end()
}

for (const path of sources(ROOT).sort()) {
  const file = 'web/src/' + relative(ROOT, path)
  const text = readFileSync(path, 'utf8')
  if (path.endsWith('.ts')) inCode(text, file)
  else {
    const { descriptor } = parse(text)
    if (descriptor.template?.ast) inTemplate(descriptor.template.ast, file)
    for (const script of [descriptor.script, descriptor.scriptSetup]) if (script) inCode(script.content, file)
  }
}
process.stdout.write(JSON.stringify([...found], null, 1))
