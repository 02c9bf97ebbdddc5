package boldanvil.additions;

import boldanvil.app.page.Page;
import boldanvil.app.page.PageHost;
import boldanvil.app.page.PageProvider;
import boldanvil.core.finding.Place;
import javafx.scene.Node;
import javafx.scene.control.Label;
import org.kordamp.ikonli.Ikon;
import org.kordamp.ikonli.feather.Feather;

/** A page with the name of the project. */
public final class HelloPage implements PageProvider {
    @Override
    public Page of(PageHost host) {
        var label = new Label();
        label.setId("hello");
        return new Page() {
            @Override
            public String name() {
                return "Hello";
            }

            @Override
            public Ikon icon() {
                return Feather.SMILE;
            }

            @Override
            public Node node() {
                return label;
            }

            @Override
            public boolean owns(Place place) {
                return false;
            }

            @Override
            public void shown() {
                label.setText(host.workspace().project().name());
            }
        };
    }
}
