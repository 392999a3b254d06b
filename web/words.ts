/** The page's own words at build time: the macros become messages with ids, and a message with parameters is parsed here, not in the browser. */
import { type NodePath, transformAsync, types as t } from '@babel/core';
import lingui from '@lingui/babel-plugin-lingui-macro';
import { compileMessage } from '@lingui/message-utils/compileMessage';
import type { Plugin } from 'vite';

const SYNTAX = { plugins: ['jsx', 'typescript'] as ('jsx' | 'typescript')[] };

/** ``message: 'Back to {0}'`` as the list of its parts, which is what the library makes of it. */
function parsed() {
  const parts = (text: string) => t.valueToNode(compileMessage(text) as never);
  return {
    visitor: {
      ObjectProperty({ node }: NodePath<t.ObjectProperty>) {
        if (t.isIdentifier(node.key, { name: 'message' }) && t.isStringLiteral(node.value)) node.value = parts(node.value.value);
      },
      JSXAttribute({ node }: NodePath<t.JSXAttribute>) {
        if (node.name.name !== 'message') return;
        const said = t.isJSXExpressionContainer(node.value) ? node.value.expression : node.value;
        if (t.isStringLiteral(said)) node.value = t.jsxExpressionContainer(parts(said.value));
      },
    },
  };
}

export function words(): Plugin {
  let building = false;
  return {
    name: 'words',
    enforce: 'pre',
    configResolved(config) {
      building = config.command === 'build';
    },
    async transform(code, id) {
      const file = id.split('?')[0] ?? id;
      if (!/\.tsx?$/.test(file) || !code.includes('@lingui/')) return null;
      const plain = { filename: file, babelrc: false, configFile: false, sourceMaps: true, parserOpts: SYNTAX };
      const said = await transformAsync(code, { ...plain, plugins: [[lingui, { extract: true }]] }); // ``extract``: the English stays with its id
      if (!said?.code || !building) return said?.code ? { code: said.code, map: said.map } : null;
      const made = await transformAsync(said.code, { ...plain, plugins: [parsed] });
      return made?.code ? { code: made.code, map: null } : null;
    },
  };
}
