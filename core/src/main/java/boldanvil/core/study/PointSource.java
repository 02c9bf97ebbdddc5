package boldanvil.core.study;

import java.util.List;
import java.util.Map;

/** Chooses the points of a study, batch by batch; the next may depend on what came of those before. */
public interface PointSource {
    /** How many points there will be at most. */
    int all();

    /**
     * The next points, SI values by name.
     *
     * @param goals what came of the batch before, one for each point; empty for the first batch
     * @return empty at the end
     */
    List<Map<String, Double>> next(double[] goals);

    /** Points that are known beforehand. */
    static PointSource of(List<Map<String, Double>> points) {
        return new PointSource() {
            private List<Map<String, Double>> left = List.copyOf(points);

            @Override
            public int all() {
                return points.size();
            }

            @Override
            public List<Map<String, Double>> next(double[] goals) {
                var now = left;
                left = List.of();
                return now;
            }
        };
    }
}
