/**
 * Runs in HDF5 files that can be read while they grow: {@link boldanvil.core.storage.RunWriter} appends samples and overviews,
 * {@link boldanvil.core.storage.RunFile} reads them, and {@link boldanvil.core.storage.HdfFiles} opens files of other programs within
 * limits.
 */
package boldanvil.core.storage;
