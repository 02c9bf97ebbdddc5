package boldanvil.core.farm;

import org.apache.ignite.Ignite;
import org.apache.ignite.lang.IgniteCallable;
import org.apache.ignite.resources.IgniteInstanceResource;

/** Gives a worker what it is to run. */
final class OpenJob implements IgniteCallable<byte[]> {
    private static final long serialVersionUID = 1;

    private final String hash;
    private final byte[] work;
    @IgniteInstanceResource
    private transient Ignite ignite;

    OpenJob(String hash, byte[] work) {
        this.hash = hash;
        this.work = work;
    }

    @Override
    public byte[] call() {
        return Parcel.pack(Bench.of(ignite).open(hash, work));
    }
}
