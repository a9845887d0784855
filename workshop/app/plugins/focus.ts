/** `v-focus`: the element has the focus as soon as it is there. */
export default defineNuxtPlugin(app => {
  app.vueApp.directive('focus', { mounted: (element: HTMLElement) => element.focus() })
})
