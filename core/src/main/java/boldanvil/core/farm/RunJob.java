package boldanvil.core.farm;

import java.util.LinkedHashMap;
import java.util.Map;
import org.apache.ignite.Ignite;
import org.apache.ignite.lang.IgniteCallable;
import org.apache.ignite.resources.IgniteInstanceResource;

/** Has a worker run one point. */
final class RunJob implements IgniteCallable<byte[]> {
    private static final long serialVersionUID = 1;

    private final String hash;
    private final String[] names;
    private final double[] values;
    @IgniteInstanceResource
    private transient Ignite ignite;

    RunJob(String hash, Map<String, Double> point) {
        this.hash = hash;
        names = point.keySet().toArray(String[]::new);
        values = point.values().stream().mapToDouble(Double::doubleValue).toArray();
    }

    @Override
    public byte[] call() {
        Map<String, Double> point = new LinkedHashMap<>();
        for (int i = 0; i < names.length; i++) {
            point.put(names[i], values[i]);
        }
        return Parcel.pack(Bench.of(ignite).run(hash, point));
    }
}
