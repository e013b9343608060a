// A field that offers what is known as it is typed: the arrows and Enter take one, and
// what is typed counts as it stands.
import { useCombobox } from 'downshift'
import { useId, type ReactNode } from 'react'

type Props<T> = {
  label: string
  quiet?: boolean
  value: string
  set: (text: string) => void
  items: T[]
  id: (item: T) => string
  show: (item: T) => ReactNode
  /** The item in plain words, for those who hear it. */
  say: (item: T) => string
  take: (item: T) => void
  placeholder?: string
  className?: string
  focus?: boolean
  /** Enter takes the first that is offered; without it what is typed stands as it is. */
  eager?: boolean
}

export function Combobox<T>(props: Props<T>) {
  const { label, quiet, value, set, items, id, show, say, take, placeholder, className = '', focus, eager } = props
  const box = useCombobox<T>({
    id: useId(),
    items,
    inputValue: value,
    selectedItem: null,
    defaultHighlightedIndex: eager ? 0 : -1,
    itemToString: (item) => (item ? say(item) : ''),
    onSelectedItemChange: ({ selectedItem }) => {
      if (selectedItem) take(selectedItem)
    },
  })
  const open = box.isOpen && items.length > 0
  return (
    <div className="relative grid gap-1 text-small">
      <label {...box.getLabelProps()} className={quiet ? 'sr-only' : ''}>
        {label}
      </label>
      <input
        {...box.getInputProps({
          placeholder,
          autoComplete: 'off',
          autoFocus: focus,
          // At once: a caret does not wait for a state that comes later.
          onChange: (event) => set(event.currentTarget.value),
          // Enter that takes an item is not the form's.
          onKeyDown: (event) => {
            if (event.key === 'Enter' && box.isOpen && box.highlightedIndex >= 0) event.preventDefault()
          },
        })}
        className={`field text-body ${className}`}
      />
      <ul
        {...box.getMenuProps()}
        className={
          open
            ? 'absolute top-full right-0 left-0 z-20 mt-1 max-h-80 overflow-y-auto rounded-part border-[1.5px] border-ink bg-sheet p-1 text-body'
            : 'sr-only'
        }
      >
        {open &&
          items.map((item, index) => (
            <li
              key={id(item)}
              {...box.getItemProps({ item, index })}
              className={`flex min-h-[48px] cursor-pointer items-center rounded-part px-3 py-1.5 ${box.highlightedIndex === index ? 'bg-paper' : ''}`}
            >
              {show(item)}
            </li>
          ))}
      </ul>
    </div>
  )
}
