/** @jest-environment jsdom */
import { QueryClient, QueryClientProvider, useQuery } from '@tanstack/react-query'
import { act, fireEvent, render, screen, waitFor, within } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { useState, type ReactElement } from 'react'
import { z } from 'zod'
import { Refusal } from './api'
import { CellTable, type CellRow } from './CellTable'
import { Confirm } from './Confirm'
import { EditNotes } from './EditNotes'
import { Field, TextInput } from './Field'
import { FileDrop } from './FileDrop'
import { Freshness } from './Freshness'
import { writeHalfDone } from './halfDone'
import { PersonProvider, useBarred, useMay } from './person'
import { nothingDrawn } from './page.test-help'
import { SearchBox } from './SearchBox'
import { singleKeys } from './singleKeys'
import { Tokens } from './Tokens'
import { useEdit } from './useEdit'
import { useEditForm } from './useEditForm'
import { useKeys } from './useKeys'

const said: string[] = []
jest.mock('./Toast', () => ({ useSay: () => (text: string) => void said.push(text) }))

beforeAll(nothingDrawn)
beforeEach(() => {
  said.length = 0
  localStorage.clear()
})

describe('a field', () => {
  test('its hint, and what is wrong with it, belong to it', () => {
    const { rerender } = render(<Field label="Weight" hint="With its package" children={<TextInput />} />)
    expect(screen.getByLabelText('Weight').getAttribute('aria-describedby')).toBe(
      screen.getByText('With its package').id,
    )
    rerender(<Field label="Weight" hint="With its package" wrong="No weight." children={<TextInput />} />)
    expect(screen.getByRole('alert').textContent).toBe('No weight.')
    expect(screen.getByLabelText('Weight').getAttribute('aria-invalid')).toBe('true')
    expect(screen.queryByText('With its package')).toBeNull()
  })
})

describe('a table of cells', () => {
  const columns = [
    { id: 'country', name: 'Country' },
    { id: 'days', name: 'Days' },
  ]
  let rows: readonly CellRow[] = []
  function Table({ first = [] }: { first?: readonly CellRow[] }): ReactElement {
    const [own, put] = useState(first)
    rows = own
    return (
      <CellTable
        label="Transit"
        {...{ columns, rows: own, onChange: put }}
        wrong={(row, id) => (id === 'days' && !/^\d+$/.test(own[row]!.days ?? '') ? 'A number of days.' : undefined)}
      />
    )
  }
  const cell = (name: string, row: number): HTMLInputElement => screen.getByLabelText(`${name}, row ${row}`)

  test('what is typed into the last row makes one more; what is emptied at the end goes', async () => {
    const hands = userEvent.setup()
    render(<Table />)
    await hands.type(cell('Country', 1), 'BE')
    await hands.type(cell('Country', 2), 'NL')
    expect(rows.map(({ country }) => country)).toEqual(['BE', 'NL'])
    await hands.clear(cell('Country', 2))
    expect(rows).toHaveLength(1)
    expect(cell('Country', 2)).toBeTruthy()
  })

  test('Enter and the arrows go up and down; a wrong cell says why; a row can be taken out', async () => {
    const hands = userEvent.setup()
    render(
      <Table
        first={[
          { country: 'BE', days: '1' },
          { country: 'NL', days: 'soon' },
        ]}
      />,
    )
    await hands.click(cell('Days', 1))
    await hands.keyboard('{Enter}')
    expect(document.activeElement).toBe(cell('Days', 2))
    expect(cell('Days', 2).title).toBe('A number of days.')
    await hands.keyboard('{ArrowUp}')
    expect(document.activeElement).toBe(cell('Days', 1))
    await hands.click(screen.getByLabelText('Take out row 1'))
    expect(rows).toEqual([{ country: 'NL', days: 'soon' }])
  })

  test('cells of a spreadsheet are pasted from the cell with the focus on; what does not fit is left', () => {
    render(<Table first={[{ country: 'BE', days: '1' }]} />)
    const paste = (text: string): void =>
      void fireEvent.paste(cell('Country', 2), { clipboardData: { getData: () => text } })
    paste('NL\t2\tmore\r\nFR\t 3 \r\n')
    expect(rows).toEqual([
      { country: 'BE', days: '1' },
      { country: 'NL', days: '2' },
      { country: 'FR', days: '3' },
    ])
    paste('one word')
    expect(rows).toHaveLength(3)
  })
})

describe('a list of short texts', () => {
  let members: readonly string[] = []
  function List(): ReactElement {
    const [own, put] = useState<readonly string[]>([])
    members = own
    const take = (text: string): string | null =>
      ['BE', 'NL', 'LU', 'FR'].includes(text.toUpperCase()) ? text.toUpperCase() : null
    return (
      <Tokens
        label="Countries"
        hint="a country"
        members={own}
        onChange={put}
        take={take}
        choices={[{ id: 'FR', name: 'France' }]}
      />
    )
  }
  const field = (): HTMLInputElement => screen.getByLabelText('Add to Countries')

  test('several at once; each once; what is not known is said and stays to be corrected', async () => {
    const hands = userEvent.setup()
    render(<List />)
    await hands.type(field(), 'be, nl;LU{Enter}')
    expect(members).toEqual(['BE', 'NL', 'LU'])
    await hands.type(field(), 'NL BE{Enter}')
    expect(members).toHaveLength(3)
    await hands.type(field(), 'Atlantis{Enter}')
    expect(said).toEqual(['“Atlantis” is not known and not added.'])
    expect(field().value).toBe('Atlantis')
  })

  test('chosen from what is offered, pasted, and taken out again', async () => {
    const hands = userEvent.setup()
    render(<List />)
    await hands.type(field(), 'fra')
    await hands.click(await screen.findByRole('option', { name: /France/ }))
    expect(members).toEqual(['FR'])
    fireEvent.paste(field(), { clipboardData: { getData: () => 'be\nnl' } })
    expect(members).toEqual(['FR', 'BE', 'NL'])
    await hands.click(screen.getByLabelText('Take out BE'))
    await hands.clear(field())
    await hands.type(field(), '{Backspace}')
    expect(members).toEqual(['FR'])
  })
})

test('a question before something paid takes one answer, however often the button is pressed', async () => {
  const hands = userEvent.setup()
  let settle = (): void => undefined
  const confirm = jest.fn(() => new Promise<void>((resolve) => (settle = resolve)))
  const close = jest.fn()
  render(<Confirm open title="Buy 3 labels?" action="Buy" onConfirm={confirm} onClose={close} children="€12.30" />)
  const dialog = await screen.findByRole('dialog')
  const buy = within(dialog).getByRole('button', { name: 'Buy' })
  await hands.dblClick(buy)
  await hands.keyboard('{Escape}')
  expect([confirm.mock.calls.length, close.mock.calls.length]).toEqual([1, 0])
  await act(async () => settle())
  await hands.click(within(dialog).getByRole('button', { name: 'Not now' }))
  expect(close).toHaveBeenCalledTimes(1)
})

test('a file is taken by choosing and by drop; meanwhile the button says that it is read', async () => {
  const taken: string[] = []
  let settle = (): void => undefined
  const onFile = (file: File): Promise<void> => {
    taken.push(file.name)
    return new Promise((resolve) => (settle = resolve))
  }
  render(<FileDrop id="f" label="Choose a file" accept=".csv" onFile={onFile} children="or drop it here" />)
  fireEvent.change(document.querySelector('input')!, { target: { files: [new File(['a'], 'orders.csv')] } })
  expect(screen.getByText('Reading …')).toBeTruthy()
  await act(async () => settle())
  fireEvent.drop(screen.getByText('or drop it here'), { dataTransfer: { files: [new File(['b'], 'more.csv')] } })
  fireEvent.drop(screen.getByText('or drop it here'), { dataTransfer: { files: [] } })
  expect(taken).toEqual(['orders.csv', 'more.csv'])
  await act(async () => settle())
  expect(screen.getByText('Choose a file')).toBeTruthy()
})

describe('an edit', () => {
  const Seller = ({ saved }: { saved: { name: string } }): ReactElement => {
    const edit = useEdit('seller', saved)
    return (
      <>
        <EditNotes edit={edit} what="the seller" mine={[edit.value.name]} theirs={[saved.name]} />
        <input aria-label="Name" value={edit.value.name} onChange={(event) => edit.put({ name: event.target.value })} />
        <output>{edit.editing ? 'editing' : 'saved'}</output>
      </>
    )
  }
  const name = (): HTMLInputElement => screen.getByLabelText('Name')
  beforeEach(() => writeHalfDone('seller', null))

  test('what is as it was saved is no edit; what somebody else has changed meanwhile is shown, and one chooses', async () => {
    const hands = userEvent.setup()
    const { rerender } = render(<Seller saved={{ name: 'Mossgill' }} />)
    await hands.type(name(), ' 2')
    expect(screen.getByText('editing')).toBeTruthy()
    await hands.type(name(), '{Backspace}{Backspace}')
    expect(screen.getByText('saved')).toBeTruthy()
    await hands.type(name(), '!')
    rerender(<Seller saved={{ name: 'Theirs' }} />)
    expect(screen.getByRole('alert').textContent).toContain('Somebody else has changed the seller')
    expect(name().value).toBe('Mossgill!')
    await hands.click(screen.getByRole('button', { name: /^Keep mine/ }))
    expect(screen.queryByRole('alert')).toBeNull()
    expect(name().value).toBe('Mossgill!')
    rerender(<Seller saved={{ name: 'Theirs again' }} />)
    await hands.click(screen.getByRole('button', { name: 'Take theirs' }))
    expect(name().value).toBe('Theirs again')
  })

  test('of a form: fields follow what is kept, and what is typed is kept', async () => {
    const hands = userEvent.setup()
    const schema = z.object({ name: z.string().min(1, 'Give it a name.') })
    const Form = ({ saved }: { saved: { name: string } }): ReactElement => {
      const { form, edit } = useEditForm('seller', saved, schema)
      return (
        <form onSubmit={(event) => void form.handleSubmit(() => undefined)(event)}>
          <input aria-label="Name" {...form.register('name')} />
          <p role="note">{form.formState.errors.name?.message}</p>
          <button type="button" onClick={edit.drop}>
            Put back
          </button>
          <button>Save</button>
        </form>
      )
    }
    const { unmount } = render(<Form saved={{ name: 'Mossgill' }} />)
    await waitFor(() => expect(name().value).toBe('Mossgill'))
    await hands.clear(name())
    await hands.click(screen.getByRole('button', { name: 'Save' }))
    await waitFor(() => expect(screen.getByRole('note').textContent).toBe('Give it a name.'))
    await hands.type(name(), 'Tallow')
    unmount()
    render(<Form saved={{ name: 'Mossgill' }} />)
    await waitFor(() => expect(name().value).toBe('Tallow'))
    await hands.click(screen.getByRole('button', { name: 'Put back' }))
    await waitFor(() => expect(name().value).toBe('Mossgill'))
  })
})

describe('keys of a screen', () => {
  const pressed: string[] = []
  function Screen({ dialog = false }: { dialog?: boolean }): ReactElement {
    const note = (key: string) => () => void pressed.push(key)
    useKeys({ '/': note('/'), 'mod+z': note('undo'), Escape: note('escape'), 'alt+1': note('line') })
    return (
      <>
        <input aria-label="text" />
        <input aria-label="tick" type="checkbox" />
        {dialog && <div role="dialog" aria-modal="true" />}
      </>
    )
  }
  beforeEach(() => void (pressed.length = 0))
  const press = (on: Element, key: string, more: object = {}): void => void fireEvent.keyDown(on, { key, ...more })

  test('typing in a field is left alone; a tick is no typing; undo in a field is the field’s', () => {
    const { rerender } = render(<Screen />)
    press(document.body, '/')
    press(screen.getByLabelText('text'), '/')
    press(screen.getByLabelText('tick'), '/')
    press(screen.getByLabelText('text'), 'z', { ctrlKey: true })
    press(document.body, 'z', { metaKey: true })
    press(screen.getByLabelText('text'), 'Escape')
    press(document.body, '1', { altKey: true })
    expect(pressed).toEqual(['/', '/', 'undo', 'escape', 'line'])
    rerender(<Screen dialog />)
    press(document.body, 'Escape')
    expect(pressed).toHaveLength(5)
  })

  test('keys of one sign can be switched off, those with others stay', () => {
    render(<Screen />)
    singleKeys.set(false)
    press(document.body, '/')
    press(document.body, 'z', { ctrlKey: true })
    singleKeys.set(true)
    press(document.body, '/')
    expect(pressed).toEqual(['undo', '/'])
  })
})

test('a search asks a moment after the last key, and follows the address', async () => {
  jest.useFakeTimers()
  const asked: string[] = []
  const left = jest.fn()
  const box = (value: string): ReactElement => (
    <SearchBox
      {...{ value, label: 'Search', placeholder: '', className: '', onLeave: left }}
      onChange={(text) => void asked.push(text)}
    />
  )
  const { rerender } = render(box('gent'))
  const field = screen.getByLabelText<HTMLInputElement>('Search')
  for (const value of ['g', 'gh', ' ghent ']) fireEvent.change(field, { target: { value } })
  expect(asked).toEqual([])
  jest.advanceTimersByTime(200)
  expect(asked).toEqual(['ghent'])
  fireEvent.keyDown(field, { key: 'Escape' })
  expect(left).toHaveBeenCalledTimes(1)
  rerender(box('leeds'))
  expect(field.value).toBe('leeds')
  // What was asked for comes while the next letters are typed: none of them is lost.
  for (const value of ['leeds g', 'leeds gh']) {
    fireEvent.change(field, { target: { value } })
    act(() => void jest.advanceTimersByTime(200))
  }
  fireEvent.change(field, { target: { value: 'leeds ghe' } })
  for (const value of ['leeds g', 'leeds gh']) rerender(box(value))
  expect(field.value).toBe('leeds ghe')
  act(() => void jest.advanceTimersByTime(200))
  rerender(box('leeds ghe'))
  rerender(box(''))
  expect([field.value, asked.at(-1)]).toEqual(['', 'leeds ghe'])
  jest.useRealTimers()
})

test('letters that come before the first has come back are one step with it; taking them away is another', () => {
  jest.useFakeTimers()
  const steps: string[] = []
  const box = (value: string): ReactElement => (
    <SearchBox
      {...{ value, label: 'Search', placeholder: '', className: '' }}
      onLeave={() => undefined}
      onChange={(text, { history }) => void steps.push(`${text} ${history}`)}
    />
  )
  const { rerender } = render(box(''))
  const type = (value: string): void => {
    fireEvent.change(screen.getByLabelText('Search'), { target: { value } })
    act(() => void jest.advanceTimersByTime(200))
  }
  for (const value of ['l', 'light', '', 'a']) type(value)
  for (const value of ['l', 'light', '', 'a']) rerender(box(value))
  type('ab')
  rerender(box('ab'))
  // From elsewhere, as by Back.
  rerender(box(''))
  type('c')
  expect(steps).toEqual(['l push', 'light replace', ' push', 'a push', 'ab replace', 'c push'])
  jest.useRealTimers()
})

test('what was typed before the page was ready is looked for', () => {
  jest.useFakeTimers()
  const asked: string[] = []
  const box = (
    <SearchBox
      {...{ value: '', label: 'Search', placeholder: '', className: '' }}
      onLeave={() => undefined}
      onChange={(text) => void asked.push(text)}
    />
  )
  const container = document.body.appendChild(document.createElement('div'))
  container.innerHTML =
    '<input type="search" value="" placeholder="" aria-label="Search" class=" rounded-[3px] border border-hair bg-sheet px-2 py-1 placeholder:text-soft">'
  container.querySelector('input')!.value = 'early'
  render(box, { container, hydrate: true })
  act(() => void jest.advanceTimersByTime(200))
  expect([asked, screen.getByLabelText<HTMLInputElement>('Search').value]).toEqual([['early'], 'early'])
  jest.useRealTimers()
})

test('so is what was typed in any field that the page holds, and nothing else is a change', () => {
  const typed: string[] = []
  const Fields = (): ReactElement => {
    const [text, setText] = useState('')
    return (
      <>
        <TextInput
          aria-label="held"
          value={text}
          onChange={({ target }) => (typed.push(target.value), setText(target.value))}
        />
        <TextInput aria-label="two lines" value={'a\nb'} onChange={({ target }) => void typed.push(target.value)} />
        <TextInput aria-label="its own" defaultValue="" onChange={({ target }) => void typed.push(target.value)} />
      </>
    )
  }
  const drawn = render(<Fields />)
  const container = document.body.appendChild(document.createElement('div'))
  container.innerHTML = drawn.container.innerHTML
  drawn.unmount()
  const [held, , own] = container.querySelectorAll('input')
  held!.value = 'early'
  own!.value = 'mine'
  render(<Fields />, { container, hydrate: true })
  expect(typed).toEqual(['early'])
  expect([...container.querySelectorAll('input')].map(({ value }) => value)).toEqual(['early', 'ab', 'mine'])
})

test('what cannot be fetched again is said with since when it is true; an order that is gone is not', async () => {
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } })
  let fails: Error | null = null
  const Shown = ({ of, meta }: { of: string; meta?: Record<string, unknown> }): ReactElement => {
    const query = useQuery({
      queryKey: [of],
      queryFn: () => (fails ? Promise.reject(fails) : Promise.resolve(1)),
      ...(meta ? { meta } : {}),
    })
    return <p>{query.data ?? 'nothing'}</p>
  }
  const page = (of: string, meta?: Record<string, unknown>): ReactElement => (
    <QueryClientProvider client={client}>
      <Freshness />
      <Shown of={of} {...(meta ? { meta } : {})} />
    </QueryClientProvider>
  )
  const { rerender } = render(page('orders'))
  await screen.findByText('1')
  expect(screen.queryByRole('alert')).toBeNull()
  fails = new Refusal('unreachable', 'Gharry cannot be reached.', true)
  await act(() => client.refetchQueries())
  expect((await screen.findByRole('alert')).textContent).toMatch(
    /^What is shown is from \d.*Gharry cannot be reached\./,
  )
  fails = null
  await userEvent.click(screen.getByRole('button', { name: 'Try again' }))
  await waitFor(() => expect(screen.queryByRole('alert')).toBeNull())
  fails = new Refusal('not-found', 'This order is gone.')
  rerender(page('order 7'))
  await waitFor(() => expect(client.getQueryState(['order 7'])?.status).toBe('error'))
  expect(screen.queryByRole('alert')).toBeNull()
  fails = new Refusal('away', 'The disk is full.', true)
  rerender(page('quiet', { quiet: true }))
  await waitFor(() => expect(client.getQueryState(['quiet'])?.status).toBe('error'))
  expect(screen.queryByRole('alert')).toBeNull()
})

test('who sits here may do what their role allows; of the rest it is said who may', () => {
  function Says(): ReactElement {
    const [may, barred] = [useMay(), useBarred()]
    return (
      <p>
        {[may('labels.buy'), barred('POST /api/rules/publish' as never), barred(undefined)].map(String).join(' | ')}
      </p>
    )
  }
  const { unmount } = render(<Says />)
  expect(screen.getByText('true | null | null')).toBeTruthy()
  unmount()
  const person = {
    name: 'Noor',
    email: 'noor@mossgill.example',
    role: 'packer',
    barred: [['POST /api/rules/publish', 'publish']],
  } as never
  render(<PersonProvider person={person} children={<Says />} />)
  expect(screen.getByText(/^false \| Packers may not .* Those who may: .*\. \| null$/)).toBeTruthy()
})
