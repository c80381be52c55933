export { ArchiveUpload, GuideUpload, ImportFiles } from './import-files'
