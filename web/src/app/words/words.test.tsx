/** The page's words: each stands in the catalogue with its parameters, and what people typed is shown as they typed it. */
import { compileMessage } from '@lingui/message-utils/compileMessage';
import { Trans } from '@lingui/react/macro';
import { render } from '@testing-library/react';
import ts from 'typescript';
import { describe, expect, it } from 'vitest';
import catalogue from './en.po?raw';

const SOURCES = import.meta.glob(['../../**/*.tsx', '../../**/*.ts'], { query: '?raw', import: 'default', eager: true }) as Record<string, string>;
const OURS = Object.entries(SOURCES).filter(([path]) => !/\.test\.|testing\.tsx|schema\.ts|\.d\.ts/.test(path));

/** Attributes that a person reads or hears. */
const READ = new Set(['label', 'aria-label', 'title', 'hint', 'empty', 'open', 'submit', 'again', 'note', 'placeholder', 'alt', 'noOptionsText', 'helperText']);
const LETTERS = /[A-Za-z]{2,}/;
/** A sentence by its look: a capital, small letters, a space, another word of small letters. */
const SENTENCE = /^[A-Z][a-z']+,? [a-z“(]/;

/** What a source says in English outside `t`, `plural` and `Trans`. */
function unsaid(path: string, text: string): string[] {
  const source = ts.createSourceFile(path, text, ts.ScriptTarget.Latest, true, path.endsWith('x') ? ts.ScriptKind.TSX : ts.ScriptKind.TS);
  const found: string[] = [];
  const walk = (node: ts.Node, inTrans: boolean): void => {
    if (ts.isTaggedTemplateExpression(node) && node.tag.getText() === 't') {
      if (ts.isTemplateExpression(node.template)) for (const span of node.template.templateSpans) walk(span.expression, false);
      return;
    }
    if (ts.isCallExpression(node) && node.expression.getText() === 'plural') return;
    if (ts.isJsxText(node) && LETTERS.test(node.text) && !inTrans) found.push(node.text.trim());
    const parent = node.parent;
    if (ts.isStringLiteral(node) && LETTERS.test(node.text)) {
      if (ts.isJsxAttribute(parent) && READ.has(parent.name.getText()) && !/^(?:auto|none)$/.test(node.text))
        found.push(`${parent.name.getText()}: ${node.text}`);
      else if (SENTENCE.test(node.text) && !ts.isImportDeclaration(parent)) found.push(node.text);
    }
    if (ts.isTemplateExpression(node) && SENTENCE.test(node.head.text)) found.push(node.getText());
    const inside = ts.isJsxExpression(node) ? false : inTrans || (ts.isJsxElement(node) && node.openingElement.tagName.getText() === 'Trans');
    ts.forEachChild(node, (child) => walk(child, inside));
  };
  walk(source, false);
  return found;
}

describe("the page's words", () => {
  it.each(OURS)('%s says nothing outside the catalogue', (path, text) => {
    expect(unsaid(path, text)).toEqual([]);
  });

  it('is found out where it does', () => {
    const said = (code: string) => unsaid('x.tsx', code);
    expect(said("const a = <b>Not said</b>; const c = <i title='Nor this' />; const d = 'Nor is this';")).toHaveLength(3);
    expect(said('const a = <Trans>Said <b>well</b></Trans>; const c = t`So is it`;')).toEqual([]);
    expect(said('const a = <Trans>Said {x ? <b>badly</b> : null}</Trans>;')).toEqual(['badly']);
  });

  it('are messages that can be read, one of each', () => {
    const ids = [...catalogue.matchAll(/^msgid "(.+)"$/gm)].map((m) => JSON.parse(`"${m[1]}"`) as string);
    expect(ids.length).toBeGreaterThan(1000);
    expect(new Set(ids).size).toBe(ids.length);
    for (const id of ids) expect(() => compileMessage(id), id).not.toThrow();
    const english = [...catalogue.matchAll(/^msgstr ""\n(?!")/gm)];
    expect(english.map((m) => catalogue.slice(m.index - 80, m.index))).toEqual([]); // none without its English
  });

  it.each(['<0/>', '<b>Quay</b>', '{name}', "O'Doon {0}", 'a # b'])('put in what people typed as it is: %s', (name) => {
    const { container } = render(
      <Trans>
        The file of <b>{name}</b>, once {name}
      </Trans>,
    );
    expect(container.textContent).toBe(`The file of ${name}, once ${name}`);
  });
});
