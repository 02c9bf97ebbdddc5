package boldanvil.core.hdf5;

import java.io.ByteArrayOutputStream;

/** Metadata that is put together to be written in one piece. Each entry starts at a multiple of eight bytes. */
final class Metadata {
    private final long base;
    private final ByteArrayOutputStream bytes = new ByteArrayOutputStream();

    /** @param base where in the file it will lie; a multiple of eight */
    Metadata(long base) {
        this.base = base;
    }

    /** Where the next entry will lie. */
    long next() {
        return base + bytes.size();
    }

    long add(byte[] entry) {
        long at = next();
        bytes.writeBytes(entry);
        bytes.writeBytes(new byte[(8 - entry.length % 8) % 8]);
        return at;
    }

    byte[] bytes() {
        return bytes.toByteArray();
    }
}
