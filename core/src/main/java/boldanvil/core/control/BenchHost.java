package boldanvil.core.control;

import java.util.Optional;
import java.util.ServiceLoader;

/** Offers the bench process; a service of the module that holds the stand-ins. */
public interface BenchHost {
    /** The class whose main method is the bench process. */
    String mainClass();

    /** The class whose main method is the process of a PLC. */
    String plcClass();

    /** The one on the class path; empty where the stand-ins are not installed. */
    static Optional<BenchHost> installed() {
        return ServiceLoader.load(BenchHost.class, BenchHost.class.getClassLoader()).findFirst();
    }
}
