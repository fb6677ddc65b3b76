import { expect, test } from '@playwright/test'
import { fromMarkdown, toMarkdown } from '../src/features/pages/markdown'

test('text of a page is the same after the editor had it', () => {
  for (const text of [
    '## Inside each district\n\nIt [rises by 9 kg](reading:0123456789abcdef.1), *really* **so**.',
    'It [falls by 7 kg](reading:k1 "was: falls by 6 kg") and [holds](reading:k2 "gone").',
    '* one\n* two\n\n1. first\n2. second\n\n> said\n\n[go](https://valley.example/a "there")',
    '| district | kg |\n| --- | ---: |\n| Tarn | 12 |\n\nafter it',
    '```\n| no | table |\n| --- | --- |\n```',
    'a \\*star\\* and \\[brackets\\]',
  ])
    expect(toMarkdown(fromMarkdown(text))).toBe(text)
})

test('what is no text of a page becomes words', () => {
  expect(toMarkdown(fromMarkdown('<script>alert(1)</script>'))).toContain('script')
  expect(fromMarkdown('![hives](https://elsewhere.example/x.png)').textContent).toBe('hives')
  expect(JSON.stringify(fromMarkdown('[x](javascript:alert(1))').toJSON())).not.toContain('"link"')
})
