import vue from 'eslint-plugin-vue'
import ts from 'typescript-eslint'

export default ts.config(
  { ignores: ['dist', 'src/generated'] },
  ...ts.configs.strict,
  ...vue.configs['flat/recommended'],
  {
    files: ['**/*.vue'],
    languageOptions: { parserOptions: { parser: ts.parser } },
  },
  {
    rules: {
      'vue/max-attributes-per-line': 'off',
      'vue/singleline-html-element-content-newline': 'off',
      'vue/html-self-closing': 'off',
      'vue/html-closing-bracket-newline': 'off',
      'vue/multiline-html-element-content-newline': 'off',
      'vue/html-indent': 'off',
      'vue/first-attribute-linebreak': 'off',
      'vue/attributes-order': 'off',
      'vue/max-len': ['error', {
        code: 120, template: 120, ignoreUrls: true, ignoreStrings: true, ignoreTemplateLiterals: true,
        ignoreRegExpLiterals: true, ignoreHTMLTextContents: true, ignoreHTMLAttributeValues: true,
      }],
      '@typescript-eslint/no-non-null-assertion': 'error',
    },
  },
  // A test knows what it has made.
  { files: ['**/*.test.ts'], rules: { '@typescript-eslint/no-non-null-assertion': 'off' } },
)
