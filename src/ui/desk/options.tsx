/** The options of a select. In: what each shows, by its value. */
export const options = (list: Readonly<Record<string, string>>) =>
  Object.entries(list).map(([value, text]) => (
    <option key={value} value={value}>
      {text}
    </option>
  ))
