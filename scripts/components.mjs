// Part of npm run lint: no component and no hook of the page is longer than 120 lines.
import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import ts from 'typescript';
import { root } from './install.mjs';

const MOST_LINES = 120;
const folder = path.join(root, 'apps/web/src');
const files = readdirSync(folder, { recursive: true, encoding: 'utf8' }).filter(
  (name) => /\.tsx?$/.test(name) && !/\.test\.|\.d\.ts$/.test(name),
);
/** The function that a name stands for, within what it may be wrapped in (memo, forwardRef). */
const functionIn = (value) => {
  if (ts.isCallExpression(value)) return value.arguments[0] && functionIn(value.arguments[0]);
  return ts.isArrowFunction(value) || ts.isFunctionExpression(value) ? value : undefined;
};
let count = 0;
const long = [];
for (const name of files) {
  const source = ts.createSourceFile(
    name,
    readFileSync(path.join(folder, name), 'utf8'),
    ts.ScriptTarget.Latest,
    true,
    name.endsWith('x') ? ts.ScriptKind.TSX : ts.ScriptKind.TS,
  );
  const visit = (node) => {
    if (ts.isVariableDeclaration(node) && ts.isIdentifier(node.name) && node.initializer) {
      const called = node.name.text;
      const found = /^(use)?[A-Z]/.test(called) ? functionIn(node.initializer) : undefined;
      if (found) {
        count += 1;
        const [first, last] = [found.getStart(), found.end].map((at) => source.getLineAndCharacterOfPosition(at).line);
        if (last - first + 1 > MOST_LINES) long.push(`${name}: ${called} has ${last - first + 1} lines`);
      }
    }
    ts.forEachChild(node, visit);
  };
  visit(source);
}
for (const words of long) console.error(words);
if (long.length > 0) process.exit(1);
console.log(`No component or hook of ${count} is longer than ${MOST_LINES} lines.`);
