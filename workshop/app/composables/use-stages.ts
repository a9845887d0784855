/**
 * Lets what is costly to make come in several frames, so that no one of them is held long: the number of the stage that
 * may be shown, growing by one a frame up to `count` once the component is there.
 */
export function useStages(count: number): Readonly<Ref<number>> {
  const stage = ref(0)
  let frame = 0
  const next = (): void => {
    stage.value++
    if (stage.value < count) frame = requestAnimationFrame(next)
  }
  onMounted(() => (frame = requestAnimationFrame(next)))
  onBeforeUnmount(() => cancelAnimationFrame(frame))
  return stage
}
