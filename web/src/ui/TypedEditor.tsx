import { lazy, Suspense } from 'react'
import type { EditorProps } from './CodeEditor'

export type { Wrong } from './CodeEditor'

const CodeEditor = lazy(() => import('./CodeEditor'))

/** The editor of both typed languages. It is fetched when something is first typed; until then the text is shown. */
export function TypedEditor(props: EditorProps) {
  return (
    <Suspense
      fallback={
        <div className="typed-editor whitespace-pre-wrap" style={{ minHeight: `${props.rows * 1.7}em`, padding: '8px 14px' }}>
          {props.text}
        </div>
      }
    >
      <CodeEditor {...props} />
    </Suspense>
  )
}
