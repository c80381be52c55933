export { ArchiveUpload, ImportFiles } from './import-files'
