package boldanvil.core.export;

import boldanvil.core.board.Boards;
import boldanvil.core.build.Sources;
import boldanvil.core.diagram.Rig;
import boldanvil.core.finding.Place;
import boldanvil.core.output.GeneratedFile;
import boldanvil.core.peripheral.BoardSetup;
import boldanvil.core.review.Review;
import java.util.List;

/** The C99 of a part, with what a rig needs around it and the files that build it. */
public final class CSources implements Exporter {
    @Override
    public String id() {
        return "c";
    }

    @Override
    public String title() {
        return "C99 source files";
    }

    @Override
    public List<GeneratedFile> files(Review review, Rig rig, String part) {
        return of(review, rig, part).files();
    }

    /** The sources of one part as a rig needs them: plain, for a device, or for an emulator. */
    public static Sources of(Review review, Rig rig, String part) {
        var program = review.system().program(part).orElseThrow();
        var place = rig.place(part);
        if (place.mode() == Rig.Mode.EMULATED) {
            return Sources.emulated(program, Boards.of(review.project()).require(Place.rig(rig.name()), place.device()));
        }
        if (place.mode() != Rig.Mode.DEVICE) {
            return Sources.of(program);
        }
        var board = Boards.of(review.project()).require(Place.rig(rig.name()), place.device());
        return Sources.of(new BoardSetup(board, review.patch(part, board.name()), program));
    }
}
