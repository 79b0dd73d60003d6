/** What is heard is written down in segments, each with where it came from, and handed on pass by pass. */
import { beforeEach, expect, test } from 'vitest'
import type { HeardPass } from '@/api/client'
import { ratio } from '@/app/ratio'
import { HeardPasses, snap } from './heardPasses'

type Handed = Pick<HeardPass, 'beats' | 'start' | 'segments'>
let handed: Handed[] = []
let passes = new HeardPasses((pass) => handed.push(pass))
beforeEach(() => {
  handed = []
  passes = new HeardPasses((pass) => handed.push(pass))
})
const source = (revision: number) => ({ revision, edits: [] })

test('a pass is one segment after another, without a gap', () => {
  passes.goOn(source(1), 0, 0)
  passes.goOn(source(2), 1.5, 1.5)
  passes.goOn(source(2), 3, 7) // somewhere else in the same recipe
  passes.closeSegment(4)
  passes.closePass(4)
  expect(handed).toHaveLength(1)
  expect(handed[0]).toMatchObject({ start: 0, beats: 4 })
  expect(
    handed[0]?.segments.map(({ revision, at, start, end }) => [revision, at, start, end]),
  ).toEqual([[1, 0, 0, 1.5], [2, 1.5, 1.5, 3], [2, 3, 7, 8]])
  expect(passes.start).toBe(4)
})

test('what no time was given to is left out, and so is a pass in which nothing was heard', () => {
  passes.goOn(source(1), 0, 0)
  passes.goOn(source(2), 0, 0)
  passes.closeSegment(2)
  passes.closePass(2)
  expect(handed[0]?.segments.map(({ revision }) => revision)).toEqual([2])
  passes.closePass(3)
  expect(handed).toHaveLength(1)
})

test('what was to come already when it was stopped was not heard', () => {
  passes.goOn(source(1), 0, 0)
  passes.goOn(source(2), 1, 1)
  passes.goOn(source(3), 2.5, 2.5) // scheduled ahead
  passes.closeSegment(2)
  passes.closePass(2)
  expect(handed[0]?.segments.map(({ revision, end }) => [revision, end])).toEqual([[1, 1], [2, 2]])
})

test('a pass that is under way is told as far as its last whole bar', () => {
  passes.goOn(source(1), 8, 8)
  passes.goOn(source(2), 11, 11)
  passes.goOn(source(3), 13, 13)
  expect(passes.soFar(2, 4)).toBe(null)
  passes.closePass(8)
  passes.goOn(source(1), 8, 8)
  passes.goOn(source(2), 11, 11)
  passes.goOn(source(3), 13, 13)
  expect(passes.soFar(13.5, 4)).toMatchObject({
    start: 8, beats: 4, segments: [{ revision: 1, end: 11 }, { revision: 2, end: 12 }],
  })
  expect(passes.soFar(16, 4)?.segments.map(({ end }) => end)).toEqual([11, 13, 16])
})

test('a recipe that is heard at another speed has its own beats', () => {
  passes.goOn(source(1), 8, 4, '3/2')
  passes.closeSegment(10)
  passes.closePass(10)
  expect(handed[0]?.segments[0]).toMatchObject({ at: 8, start: 4, end: 7, speed: '3/2' })
})

test('the same source goes on until it is broken off', () => {
  const one = source(1)
  passes.goOn(one, 0, 0)
  expect([passes.isFrom(one), passes.isFrom(source(1))]).toEqual([true, false])
  passes.breakOff()
  expect(passes.isFrom(one)).toBe(false)
})

test('fractions are read as they are written, and beats lie where they are meant', () => {
  expect(['1', '3/2', '1/3'].map(ratio)).toEqual([1, 1.5, 1 / 3])
  expect(snap(0.1 + 0.2)).toBe(2016 / 6720)
  expect(snap(1 / 3 + 1e-9)).toBe(2240 / 6720)
  expect(snap(0.12345)).toBe(0.12345)
})
