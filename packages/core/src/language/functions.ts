import ts from '#typescript'

/** The functions that a module exports, and what their parameters take, so they can be called with typed-in values. */

/** What a parameter takes, as inputs can be made of it. */
export interface ArgumentShape {
  /** The type as TypeScript writes it. */
  text: string
  /** It may be null. */
  nullable: boolean
  /** `json`: anything that JSON can say; `none`: what cannot be typed in, such as a function. */
  kind: 'number' | 'text' | 'boolean' | 'choice' | 'list' | 'record' | 'map' | 'set' | 'json' | 'none'
  /** Of a choice. */
  choices?: (string | number)[]
  /** Items of a list or set, values of a map. */
  of?: ArgumentShape
  /** Keys of a map. */
  key?: ArgumentShape
  /** Of a record. */
  fields?: { name: string; optional: boolean; shape: ArgumentShape }[]
}

export interface FunctionParameter {
  name: string
  optional: boolean
  /** It takes all arguments that are left. */
  rest: boolean
  shape: ArgumentShape
}

export interface ExportedFunction {
  file: string
  name: string
  /** From 1. */
  line: number
  doc: string
  parameters: FunctionParameter[]
  /** Type of what it gives. */
  gives: string
}

/** Inputs within inputs; deeper than that JSON is typed. */
const DEEPEST = 3

/** In the order of the file. */
export function exportedFunctions(service: ts.LanguageService, path: string): ExportedFunction[] {
  const program = service.getProgram()
  const source = program?.getSourceFile(`/${path}`)
  if (!program || !source) return []
  const checker = program.getTypeChecker()
  const module = checker.getSymbolAtLocation(source)
  if (!module) return []
  return checker
    .getExportsOfModule(module)
    .flatMap((symbol) => {
      const aimed = symbol.flags & ts.SymbolFlags.Alias ? checker.getAliasedSymbol(symbol) : symbol
      const declaration = aimed.valueDeclaration
      if (!declaration || declaration.getSourceFile() !== source) return []
      const [signature] = checker.getSignaturesOfType(checker.getTypeOfSymbol(aimed), ts.SignatureKind.Call)
      if (!signature) return []
      return [
        {
          file: path,
          name: symbol.name,
          line: source.getLineAndCharacterOfPosition(declaration.getStart(source)).line + 1,
          doc: ts.displayPartsToString(aimed.getDocumentationComment(checker)),
          parameters: signature.getParameters().map((parameter) => parameterOf(checker, parameter)),
          gives: checker.typeToString(signature.getReturnType()),
        },
      ]
    })
    .sort((a, b) => a.line - b.line)
}

function parameterOf(checker: ts.TypeChecker, parameter: ts.Symbol): FunctionParameter {
  const declaration = parameter.valueDeclaration
  const isParameter = declaration !== undefined && ts.isParameter(declaration)
  return {
    name: parameter.name.startsWith('__') ? 'value' : parameter.name,
    optional: isParameter && (declaration.questionToken !== undefined || declaration.initializer !== undefined),
    rest: isParameter && declaration.dotDotDotToken !== undefined,
    shape: shapeOf(checker, checker.getTypeOfSymbol(parameter), 0),
  }
}

const isNothing = (type: ts.Type) => (type.flags & (ts.TypeFlags.Null | ts.TypeFlags.Undefined | ts.TypeFlags.Void)) !== 0

function shapeOf(checker: ts.TypeChecker, type: ts.Type, depth: number): ArgumentShape {
  const parts = type.isUnion() ? type.types : [type]
  const nullable = parts.some((part) => (part.flags & ts.TypeFlags.Null) !== 0)
  const others = parts.filter((part) => !isNothing(part))
  return { text: checker.typeToString(type), nullable, ...kindOf(checker, others, depth) }
}

function kindOf(checker: ts.TypeChecker, parts: readonly ts.Type[], depth: number): Omit<ArgumentShape, 'text' | 'nullable'> {
  const isCallable = (of: ts.Type) => checker.getSignaturesOfType(of, ts.SignatureKind.Call).length > 0
  const all = (flag: ts.TypeFlags) => parts.length > 0 && parts.every((part) => (part.flags & flag) !== 0)
  if (all(ts.TypeFlags.BooleanLike)) return { kind: 'boolean' }
  if (all(ts.TypeFlags.StringLiteral | ts.TypeFlags.NumberLiteral))
    return { kind: 'choice', choices: parts.map((part) => (part as ts.LiteralType).value as string | number) }
  if (all(ts.TypeFlags.NumberLike)) return { kind: 'number' }
  if (all(ts.TypeFlags.StringLike)) return { kind: 'text' }
  const [type] = parts
  if (!type || parts.length > 1) return { kind: parts.some(isCallable) ? 'none' : 'json' }
  if (isCallable(type)) return { kind: 'none' }
  if ((type.flags & ts.TypeFlags.Object) === 0) return { kind: 'json' }
  if (depth >= DEEPEST) return { kind: 'json' }
  const [first, second] = checker.getTypeArguments(type as ts.TypeReference)
  const inner = (of: ts.Type) => shapeOf(checker, of, depth + 1)
  if (checker.isTupleType(type)) return { kind: 'json' }
  if (checker.isArrayType(type)) return first ? { kind: 'list', of: inner(first) } : { kind: 'json' }
  const name = type.getSymbol()?.name ?? ''
  // Within other values JSON has no way to say them.
  if (/^(Readonly)?Map$/.test(name) && first && second)
    return depth > 0 ? { kind: 'none' } : { kind: 'map', key: inner(first), of: inner(second) }
  if (/^(Readonly)?Set$/.test(name) && first) return depth > 0 ? { kind: 'none' } : { kind: 'set', of: inner(first) }
  if (name === 'Date' || name === 'RegExp') return { kind: 'none' }
  const fields = checker.getPropertiesOfType(type)
  if (fields.length === 0) return { kind: 'json' }
  return {
    kind: 'record',
    fields: fields.map((field) => ({
      name: field.name,
      optional: (field.flags & ts.SymbolFlags.Optional) !== 0,
      shape: inner(checker.getTypeOfSymbol(field)),
    })),
  }
}
