/** The metadata of @Type, which the package keeps in a file of its own and describes elsewhere. */
declare module 'class-transformer/cjs/storage.js' {
  import type { MetadataStorage } from 'class-transformer/types/MetadataStorage.js';
  export const defaultMetadataStorage: MetadataStorage;
}
