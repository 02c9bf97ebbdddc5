package boldanvil.standin;

import boldanvil.core.control.BenchHost;

/** Offers {@link BenchMain} as the bench process. */
public final class StandinHost implements BenchHost {
    @Override
    public String mainClass() {
        return BenchMain.class.getName();
    }
}
