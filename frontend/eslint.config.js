import js from '@eslint/js'
import prettier from 'eslint-config-prettier'
import vue from 'eslint-plugin-vue'
import ts from 'typescript-eslint'

export default ts.config(
  { ignores: ['dist', 'src/api/schema.d.ts'] },
  js.configs.recommended,
  ts.configs.recommended,
  vue.configs['flat/recommended'],
  { files: ['**/*.vue'], languageOptions: { parserOptions: { parser: ts.parser } } },
  {
    languageOptions: {
      globals: Object.fromEntries(
        [
          'window',
          'document',
          'navigator',
          'console',
          'localStorage',
          'setTimeout',
          'clearTimeout',
        ].map((name) => [name, 'readonly']),
      ),
    },
    rules: { 'vue/multi-word-component-names': 'off', 'no-undef': 'off' },
  },
  {
    // Numbers are written in one way: src/design/numbers.ts.
    files: ['src/**/*.{ts,vue}'],
    ignores: ['src/design/numbers.ts'],
    rules: Object.fromEntries(
      ['no-restricted-syntax', 'vue/no-restricted-syntax'].map((rule) => [
        rule,
        [
          'error',
          ...[
            'MemberExpression[property.name=/^(toFixed|toPrecision|toLocaleString)$/]',
            'MemberExpression[object.name="Intl"][property.name="NumberFormat"]',
            'Literal[value=/−/]',
            'TemplateElement[value.raw=/−/]',
          ].map((selector) => ({ selector, message: 'Write numbers with design/numbers.' })),
        ],
      ]),
    ),
  },
  prettier,
)
