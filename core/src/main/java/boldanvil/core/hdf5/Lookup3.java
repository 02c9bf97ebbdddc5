package boldanvil.core.hdf5;

/** Bob Jenkins' lookup3 hash, the checksum of HDF5 metadata (format specification, appendix on checksums). */
final class Lookup3 {
    private Lookup3() {}

    /** The checksum of the first bytes of an array. */
    static int of(byte[] data, int length) {
        int a = 0xdeadbeef + length;
        int b = a;
        int c = a;
        int at = 0;
        int left = length;
        while (left > 12) {
            a += word(data, at, 4);
            b += word(data, at + 4, 4);
            c += word(data, at + 8, 4);
            a -= c;
            a ^= Integer.rotateLeft(c, 4);
            c += b;
            b -= a;
            b ^= Integer.rotateLeft(a, 6);
            a += c;
            c -= b;
            c ^= Integer.rotateLeft(b, 8);
            b += a;
            a -= c;
            a ^= Integer.rotateLeft(c, 16);
            c += b;
            b -= a;
            b ^= Integer.rotateLeft(a, 19);
            a += c;
            c -= b;
            c ^= Integer.rotateLeft(b, 4);
            b += a;
            at += 12;
            left -= 12;
        }
        if (left == 0) {
            return c;
        }
        a += word(data, at, Math.min(4, left));
        b += word(data, at + 4, Math.clamp(left - 4, 0, 4));
        c += word(data, at + 8, Math.clamp(left - 8, 0, 4));
        c ^= b;
        c -= Integer.rotateLeft(b, 14);
        a ^= c;
        a -= Integer.rotateLeft(c, 11);
        b ^= a;
        b -= Integer.rotateLeft(a, 25);
        c ^= b;
        c -= Integer.rotateLeft(b, 16);
        a ^= c;
        a -= Integer.rotateLeft(c, 4);
        b ^= a;
        b -= Integer.rotateLeft(a, 14);
        c ^= b;
        c -= Integer.rotateLeft(b, 24);
        return c;
    }

    private static int word(byte[] data, int at, int bytes) {
        int v = 0;
        for (int i = 0; i < bytes; i++) {
            v |= (data[at + i] & 0xFF) << 8 * i;
        }
        return v;
    }
}
