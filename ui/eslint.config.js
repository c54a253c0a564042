import prettier from 'eslint-config-prettier'
import vue from 'eslint-plugin-vue'
import globals from 'globals'
import ts from 'typescript-eslint'

export default ts.config(
  { ignores: ['src/api/contract.gen.ts'] },
  ...ts.configs.recommended,
  ...vue.configs['flat/recommended'],
  {
    languageOptions: { globals: globals.browser },
    rules: {
      'no-restricted-syntax': [
        'error',
        {
          selector:
            "CallExpression[callee.name='watch'] > ArrowFunctionExpression:first-child > .body:matches(ArrayExpression, TSAsExpression)",
          message: 'A list that is made anew is never as it was: give watch a list of functions.',
        },
        {
          selector:
            "CallExpression[callee.name='watch'] > ArrayExpression:first-child:has(> ArrowFunctionExpression) > :not(ArrowFunctionExpression)",
          message:
            'A shallow ref beside functions counts as changed whenever they are asked: give watch a function for it.',
        },
      ],
    },
  },
  {
    files: ['**/*.vue'],
    languageOptions: { parserOptions: { parser: ts.parser } },
    rules: { 'vue/multi-word-component-names': 'off' },
  },
  prettier,
)
