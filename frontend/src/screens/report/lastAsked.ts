/** The question whose numbers were looked for last: the next number is often of the same. */
import { ref } from 'vue'

export const lastAsked = ref<string>()
