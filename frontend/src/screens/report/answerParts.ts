/** What the answer to a question can give the report in view. */
import { useQuery } from '@tanstack/vue-query'
import { computed, inject, provide, toValue, type InjectionKey, type Ref } from 'vue'

import { client, unwrap } from '@/api/client'
import type { Maybe } from '@/api/queries'

export interface InReport {
  study: Ref<string>
  report: Ref<string>
  /** How its numbers are written. */
  style: Ref<string>
}
const KEY: InjectionKey<InReport> = Symbol('report')
export const provideReport = (place: InReport) => provide(KEY, place)
export const useInReport = () => inject(KEY)!

export function useAnswerParts(question: Maybe<string>) {
  const place = useInReport()
  return useQuery({
    queryKey: computed(() => [
      'study',
      place.study.value,
      'report',
      place.report.value,
      'parts',
      toValue(question),
      place.style.value,
    ]),
    queryFn: () =>
      unwrap(
        client.GET('/api/studies/{study_id}/reports/{report_id}/questions/{question_id}', {
          params: {
            path: {
              study_id: place.study.value,
              report_id: place.report.value,
              question_id: toValue(question)!,
            },
          },
        }),
      ),
    enabled: () => !!toValue(question),
    placeholderData: (previous, query) =>
      query?.queryKey[5] === toValue(question) ? previous : undefined,
    retry: false,
    staleTime: 5000,
  })
}
