import { defineAsyncComponent, defineComponent, h, shallowRef, type Component } from 'vue'

/** A dialog whose code comes when it is shown for the first time. */
export function onDemand<T extends Component>(load: () => Promise<{ default: T }>): T {
  const dialog = defineAsyncComponent(load as () => Promise<{ default: Component }>)
  return defineComponent({
    inheritAttrs: false,
    props: { visible: Boolean },
    setup(props, { attrs }) {
      let wanted = false
      return () => ((wanted ||= props.visible) ? h(dialog, { ...attrs, visible: props.visible }) : null)
    },
  }) as unknown as T
}

/** A component that comes after what stands at first; came resolves when it is there. */
export function useLater<T extends Component>(load: () => Promise<{ default: T }>) {
  const part = shallowRef<T>()
  const came = load().then((module) => {
    part.value = module.default
  })
  return { part, came }
}
