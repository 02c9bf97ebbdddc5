/**
 * Project folders on disk. {@link boldanvil.core.files.ProjectReader} reads them with limits on size and depth, checks them
 * against the published JSON Schema and reports what is wrong with file, place, cause and cure;
 * {@link boldanvil.core.files.ProjectWriter} writes them so that they read well in a version-control diff, whole or not at
 * all. The formats are described in docs/formats.md.
 */
package boldanvil.core.files;
