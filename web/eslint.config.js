import js from '@eslint/js'
import query from '@tanstack/eslint-plugin-query'
import globals from 'globals'
import a11y from 'eslint-plugin-jsx-a11y'
import { createNodeResolver, importX } from 'eslint-plugin-import-x'
import hooks from 'eslint-plugin-react-hooks'
import ts from 'typescript-eslint'

export default ts.config(
  { ignores: ['node_modules', 'src/api/gen', 'public', 'device'] },
  js.configs.recommended,
  ...ts.configs.recommendedTypeChecked.map((config) => ({ ...config, files: ['src/**/*.{ts,tsx}'] })),
  ...query.configs['flat/recommended'],
  {
    files: ['src/**/*.{ts,tsx}'],
    languageOptions: { globals: globals.browser, parserOptions: { projectService: true } },
    plugins: { 'react-hooks': hooks, 'jsx-a11y': a11y, 'import-x': importX },
    settings: {
      'import-x/extensions': ['.ts', '.tsx'],
      'import-x/parsers': { '@typescript-eslint/parser': ['.ts', '.tsx'] },
      'import-x/resolver-next': [createNodeResolver({ extensions: ['.ts', '.tsx', '.js'] })],
    },
    rules: {
      ...hooks.configs.recommended.rules,
      ...a11y.flatConfigs.recommended.rules,
      'import-x/no-cycle': ['error', { ignoreExternal: true }],
      // The first field of a screen that was opened to fill it in has the caret.
      'jsx-a11y/no-autofocus': 'off',
    },
  },
  { files: ['*.{js,ts}'], languageOptions: { globals: globals.node } },
)
