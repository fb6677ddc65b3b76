// Compiles the kernel that paints points and keeps it as text in the source, so that the
// program and the pages it makes carry it in themselves.
import { writeFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import asc from 'assemblyscript/asc'

const source = fileURLToPath(new URL('../kernel/dots.ts', import.meta.url))

/** The compiled kernel, in base64. */
export async function compiled() {
  const written = {}
  const { error, stderr } = await asc.main([source, '--outFile', 'kernel.wasm', '--runtime', 'stub', '--noAssert', '-O3', '--enable', 'simd', '--initialMemory', '1', '--disable', 'bulk-memory'], {
    writeFile: (name, content) => (written[name] = content),
  })
  if (error) throw new Error(stderr.toString())
  return Buffer.from(written['kernel.wasm']).toString('base64')
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  const text = await compiled()
  writeFileSync(new URL('../src/painter/dots/kernel.gen.ts', import.meta.url), `// Made by scripts/kernel.mjs from kernel/dots.ts.\nexport const KERNEL = '${text}'\n`)
}
