package boldanvil.core.farm;

import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.ObjectInputFilter;
import java.io.ObjectInputStream;
import java.io.ObjectOutputStream;
import java.io.Serializable;
import java.io.UncheckedIOException;
import java.util.zip.DeflaterOutputStream;
import java.util.zip.InflaterInputStream;

/** Values of this program as bytes, and back; other classes are refused. */
final class Parcel {
    private static final ObjectInputFilter ALLOWED = ObjectInputFilter.Config.createFilter(
            "maxdepth=40;maxrefs=4000000;maxbytes=268435456;boldanvil.core.**;java.lang.*;java.util.*;!*");

    private Parcel() {}

    static byte[] pack(Serializable value) {
        var bytes = new ByteArrayOutputStream();
        try (var out = new ObjectOutputStream(new DeflaterOutputStream(bytes))) {
            out.writeObject(value);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return bytes.toByteArray();
    }

    /** @throws IllegalArgumentException when the bytes are damaged, or of another build of this program */
    static Object unpack(byte[] bytes) {
        try (var in = new ObjectInputStream(new InflaterInputStream(new ByteArrayInputStream(bytes)))) {
            in.setObjectInputFilter(ALLOWED);
            return in.readObject();
        } catch (IOException | ClassNotFoundException | ClassCastException e) {
            throw new IllegalArgumentException(e);
        }
    }
}
