/** What a text of the seller's can name, each with what stands there. */
export const Placeholders = ({ list }: { list: readonly (readonly [name: string, about: string])[] }) => (
  <table className="mt-1 w-full">
    <tbody>
      {list.map(([name, about]) => (
        <tr key={name} className="border-b border-hair/60">
          <td className="py-0.5 pr-3 font-mono text-small whitespace-nowrap">{`{{ ${name} }}`}</td>
          <td className="text-soft">{about}</td>
        </tr>
      ))}
    </tbody>
  </table>
)
