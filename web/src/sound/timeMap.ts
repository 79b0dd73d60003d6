/**
 * How the audio clock, the time line that is heard, and the recipe's own beats belong together.
 *
 * The time line counts beats since play was pressed. A mark says that from some place on it the tempo is
 * another, or that the recipe's beats lie elsewhere (a pass is repeated). Marks are set ahead of time,
 * when what they are about is scheduled, and hold from their place on.
 */
export interface Mark {
  /** Seconds on the audio clock. */
  time: number
  /** Beats on the time line at that moment. */
  beat: number
  tempo: number
  /** What is added to the time line to get the recipe's own beats. */
  shift: number
}

export class TimeMap {
  private marks: Mark[] = []

  constructor(first: Mark) {
    this.marks.push(first)
  }

  get last(): Mark {
    return this.marks.at(-1) as Mark
  }
  /** When a beat of the time line sounds that comes after all marks. */
  timeOf(beat: number): number {
    const { last } = this
    return last.time + ((beat - last.beat) * 60) / last.tempo
  }
  /** From this beat of the time line on, another tempo or another place in the recipe. */
  turn(beat: number, changes: Partial<Pick<Mark, 'tempo' | 'shift'>>): void {
    this.marks.push({ ...this.last, time: this.timeOf(beat), beat, ...changes })
  }
  /** The mark that holds at a time on the audio clock. */
  private holding(time: number): Mark {
    return this.marks.findLast((mark) => mark.time <= time) ?? (this.marks[0] as Mark)
  }
  /** The mark that holds now; those before it are forgotten. */
  now(time: number): Mark {
    const found = this.holding(time)
    this.marks = this.marks.slice(this.marks.indexOf(found))
    return found
  }
  /** The beat of the time line at a time on the audio clock. */
  beatAt(time: number): number {
    const { time: from, beat, tempo } = this.holding(time)
    return beat + ((time - from) * tempo) / 60
  }
}
