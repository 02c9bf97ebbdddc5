/**
 * Writes HDF5 files that grow (HDF5 File Format Specification 3.0). Rows come in while a rig runs; what has been committed is a
 * whole file for every reader, whatever happens to this process afterwards. {@link boldanvil.core.hdf5.GrowingFile} holds
 * groups and {@link boldanvil.core.hdf5.GrowingDataset}s; the bytes of the format are made in {@code Messages}.
 * What the rows mean is not known here. Files are read by the jHDF library, not by this package.
 */
package boldanvil.core.hdf5;
