import { defineStore } from 'pinia'
import { shallowRef } from 'vue'

/** A question before something is destroyed: it names what goes. */
interface Question {
  title: string
  text: string
  /** On the button that does it: a verb and its object. */
  action: string
}

export const useConfirmation = defineStore('confirmation', () => {
  const question = shallowRef<Question | null>(null)
  let settle = (_: boolean) => {}
  /** @returns whether it is to be done */
  function ask(next: Question): Promise<boolean> {
    settle(false)
    question.value = next
    return new Promise((resolve) => (settle = resolve))
  }
  function answer(isYes: boolean): void {
    question.value = null
    settle(isYes)
  }
  return { question, ask, answer }
})
