/** Writes what the API's description states of limits as a module: `node stated.mjs`. */
import { readFileSync, writeFileSync } from 'node:fs'

const { 'x-stated': stated } = JSON.parse(readFileSync('../docs/openapi.json', 'utf8'))
writeFileSync('src/generated/stated.ts', `export const STATED = ${JSON.stringify(stated, null, 2)} as const\n`)
