package boldanvil.core.peripheral;

import boldanvil.core.program.Terminal;
import java.util.List;

/** Takes what a peripheral finds wrong with the settings of one terminal. */
public interface PatchReport {
    /** The board as it is set up for the part. */
    BoardSetup setup();

    /** The terminals of the part that have a place so far, this one among them. */
    List<Terminal> placed();

    void error(String cause, String cure);

    /** An error that goes away when the terminal is moved to another place. */
    void errorOfPlace(String cause, String cure);

    void warning(String cause, String cure);
}
