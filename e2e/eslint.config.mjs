import shared from '../web/eslint.config.js'

// The rules of web/, without those of hooks: what a test's fixture calls `use` is none.
export default [...shared, { rules: { 'react-hooks/rules-of-hooks': 'off' } }]
