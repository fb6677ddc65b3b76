import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useCallback } from 'react'
import { api, type Note, type NoteSpot, type Subject } from '../../api/client'

/** All notes that are held are to be read again. */
export function useNotesChanged(): () => void {
  const queries = useQueryClient()
  return useCallback(() => void queries.invalidateQueries({ queryKey: ['notes'] }), [queries])
}

/** Notes of one chart, dataset or page, and what can be done with them. */
export interface NotesHand {
  subject: Subject
  notes: Note[]
  /** On is the subject, unless it has only just begun. */
  write: (spot: NoteSpot, text: string, on?: Subject) => Promise<Note>
  answer: (note: Note, text: string) => Promise<unknown>
  resolve: (note: Note, resolved: boolean) => Promise<unknown>
  rewrite: (note: Note, text: string) => Promise<unknown>
  drop: (note: Note) => Promise<unknown>
  dropAnswer: (note: Note, answer: number) => Promise<unknown>
  see: (note: Note) => void
}

const NONE: Note[] = []

/** The notes of a subject; of rows, where they stand in a version. */
export function useNotes(subject: Subject, version = 0): NotesHand {
  const queries = useQueryClient()
  const there = Object.values(subject).some(Boolean)
  const notes = useQuery({
    queryKey: ['notes', subject, version],
    queryFn: () => api.notes(subject, version),
    enabled: there,
    placeholderData: (was) => was,
  })
  const then = async <T>(work: Promise<T>): Promise<T> => {
    const done = await work
    await queries.invalidateQueries({ queryKey: ['notes'] })
    return done
  }
  return {
    subject,
    notes: there ? (notes.data ?? NONE) : NONE,
    write: (spot, text, on = subject) => then(api.addNote({ ...on, spot, text })),
    answer: (note, text) => then(api.answerNote(note.id, text)),
    resolve: (note, resolved) => then(api.changeNote(note.id, { resolved })),
    rewrite: (note, text) => then(api.changeNote(note.id, { text })),
    drop: (note) => then(api.dropNote(note.id)),
    dropAnswer: (note, answer) => then(api.dropNoteAnswer(note.id, answer)),
    see: (note) => {
      if (note.fresh) void then(api.seeNote(note.id))
    },
  }
}

/** The number that notes are told apart by on a chart: those that are open, in the order in which they were written. */
export const numbered = (notes: Note[]): Map<number, number> =>
  new Map(notes.filter((n) => !n.resolved_at).map((note, i) => [note.id, i + 1]))
