import ts from 'typescript';

/** One small change of a source that its tests should notice. */
export interface Mutation {
  /** Where it stands in the source, and its line, counted from 1. */
  readonly start: number;
  readonly end: number;
  readonly line: number;
  readonly was: string;
  readonly becomes: string;
}

const SIGNS: ReadonlyMap<ts.SyntaxKind, string> = new Map([[ts.SyntaxKind.PlusToken, '-'], [ts.SyntaxKind.MinusToken, '+'], [ts.SyntaxKind.PlusEqualsToken, '-='], [ts.SyntaxKind.MinusEqualsToken, '+=']]);

const isText = (node: ts.Node): boolean => ts.isStringLiteralLike(node) || ts.isTemplateExpression(node);
/** What says nothing to whoever runs it. */
const isSilent = (node: ts.Node): boolean => ts.isImportDeclaration(node) || ts.isTypeNode(node) || ts.isInterfaceDeclaration(node) || ts.isTypeAliasDeclaration(node);

/** The same number twice as large; one where it is nothing. */
function otherNumber(text: string): string {
  const value = Number(text.replaceAll('_', ''));
  return String(value === 0 ? 1 : 2 * value);
}

/**
 * All changes of one constant or one sign in a source, in its order (after DeMillo, Lipton, Sayward, "Hints on test data selection", 1978): numbers
 * are doubled, nought becomes one, plus and minus change places, a minus in front goes away. Texts and types stay as they are.
 */
export function mutationsOf(source: string): Mutation[] {
  const file = ts.createSourceFile('source.ts', source, ts.ScriptTarget.Latest, true);
  const found: Mutation[] = [];
  const add = (node: ts.Node, becomes: string): void => {
    const start = node.getStart(file);
    found.push({ start, end: node.end, line: file.getLineAndCharacterOfPosition(start).line + 1, was: source.slice(start, node.end), becomes });
  };
  const visit = (node: ts.Node): void => {
    if (isSilent(node)) return;
    if (ts.isNumericLiteral(node)) add(node, otherNumber(node.text));
    if (ts.isBinaryExpression(node) && !isText(node.left) && !isText(node.right)) {
      const sign = SIGNS.get(node.operatorToken.kind);
      if (sign) add(node.operatorToken, sign);
    }
    if (ts.isPrefixUnaryExpression(node) && node.operator === ts.SyntaxKind.MinusToken) add(node, `(${node.operand.getText(file)})`);
    ts.forEachChild(node, visit);
  };
  visit(file);
  return found.sort((a, b) => a.start - b.start);
}

/** A source with one change made. */
export const mutated = (source: string, { start, end, becomes }: Mutation): string => source.slice(0, start) + becomes + source.slice(end);
