package boldanvil.standin;

import boldanvil.core.control.BenchHost;
import boldanvil.standin.plc.PlcMain;

/** Offers {@link BenchMain} as the bench process. */
public final class StandinHost implements BenchHost {
    @Override
    public String mainClass() {
        return BenchMain.class.getName();
    }

    @Override
    public String plcClass() {
        return PlcMain.class.getName();
    }
}
