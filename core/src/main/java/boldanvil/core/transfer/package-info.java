/**
 * Runs as files of other tools: CSV, HDF5 and value change dumps out, CSV and HDF5 in.
 */
package boldanvil.core.transfer;
