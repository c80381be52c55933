export { NoteFields } from './note-fields'
