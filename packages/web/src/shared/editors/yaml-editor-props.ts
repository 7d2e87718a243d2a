/** A text of YAML that is written. */
export interface YamlEditorProps {
  label: string
  value: string
  onChange: (value: string) => void
}
