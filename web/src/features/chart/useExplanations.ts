import { useQuery } from '@tanstack/react-query'
import { api, type Document } from '../../api/client'

/** The chart and the picture of its step go first: they are what the eye is on. */
const afterwards = (signal: AbortSignal) =>
  new Promise<void>((done) => (setTimeout(done, 120), signal.addEventListener('abort', () => done())))

/** Every other column tried as a hidden explanation of a relation. */
export function useExplanations(version: number, relation: Document | undefined) {
  return useQuery({
    queryKey: ['explanations', version, relation],
    queryFn: ({ signal }) => afterwards(signal).then(() => api.explanations(version, relation!, signal)),
    enabled: relation !== undefined,
    staleTime: Infinity,
  })
}
