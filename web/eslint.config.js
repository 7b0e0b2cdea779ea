import vue from 'eslint-plugin-vue'
import ts from 'typescript-eslint'
import parser from 'vue-eslint-parser'

export default ts.config(
  { ignores: ['dist', 'src/api/schema.d.ts', 'src/api/described.ts'] },
  ...ts.configs.recommended,
  ...vue.configs['flat/essential'],
  { files: ['**/*.vue'], languageOptions: { parser, parserOptions: { parser: ts.parser } } },
  { rules: { 'vue/multi-word-component-names': 'off', '@typescript-eslint/no-explicit-any': 'error' } },
  {
    files: ['**/*.ts'],
    rules: { 'max-len': ['error', { code: 120 }] },
  },
  {
    files: ['**/*.vue'],
    rules: {
      'vue/max-len': ['error', { code: 120, template: 120 }],
      'vue/attributes-order': 'error',
      'vue/block-order': ['error', { order: ['script', 'template', 'style'] }],
      'vue/order-in-components': 'error',
    },
  },
)
