// SPDX-FileCopyrightText: 2026 The Gilded Finch developers
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stations/piece/piece_station.h"

#include "app/session/text.h"
#include "app/stations/piece/place_words.h"
#include "app/theme/label.h"

#include <QDragEnterEvent>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QMimeData>
#include <QPushButton>
#include <QScrollArea>
#include <QStackedWidget>
#include <QStyle>
#include <QVBoxLayout>

namespace finch::app {

using namespace Qt::StringLiterals;

namespace {

constexpr int right_width = 430, finding_height = 34, most_layers_shown = 5;

bool is_picture(const std::string& file) {
    static const QStringList endings{u"png"_s, u"jpg"_s, u"jpeg"_s, u"bmp"_s};
    return endings.contains(QFileInfo(from_utf8(file)).suffix().toLower());
}

} // namespace

PieceStation::PieceStation(Workbench& workbench, ScannerTimer& timer, QWidget* parent)
    : QWidget(parent), workbench_(workbench), timer_(timer), reader_(workbench), relief_(workbench) {
    setObjectName(u"station_piece"_s);
    setAcceptDrops(true);
    auto* box = new QVBoxLayout(this);
    box->setContentsMargins(16, 10, 16, 8);
    box->setSpacing(8);
    box->addWidget(make_head());
    pages_ = new QStackedWidget(this);
    pages_->addWidget(make_drawing_page());
    relief_page_ = new ReliefPage(workbench_, relief_, this);
    pages_->addWidget(relief_page_);
    film_page_ = new FilmPage(workbench_, reader_, this);
    pages_->addWidget(film_page_);
    box->addWidget(pages_, 1);
    connect(&reader_, &PieceReader::changed, this, &PieceStation::refresh);
    connect(&relief_, &ReliefReader::changed, this, &PieceStation::refresh);
    connect(&workbench_, &Workbench::changed, this, &PieceStation::refresh);
}

QWidget* PieceStation::make_drawing_page() {
    auto* page = new QWidget(this);
    auto* box = new QVBoxLayout(page);
    box->setContentsMargins(0, 0, 0, 0);
    box->setSpacing(8);
    auto* row = new QHBoxLayout;
    row->setSpacing(20);
    drawing_ = new DrawingView(this);
    row->addWidget(drawing_, 3);
    row->addWidget(make_right(), 2);
    box->addLayout(row, 1);
    bar_ = new PartsBar(u"layer_times"_s, tr("Time by layer"), false, this);
    box->addWidget(bar_);
    time_ = plain_label({}, TextStyle::small, this);
    time_->setObjectName(u"piece_time"_s);
    time_->setWordWrap(true);
    auto* under = new QHBoxLayout;
    under->setSpacing(12);
    under->addWidget(time_, 1);
    auto* order = new QPushButton(tr("Heat and order…"), this);
    order->setObjectName(u"heat_order"_s);
    order->setToolTip(tr("How warm each mark begins, and the order, pauses or clamps that keep it cooler"));
    connect(order, &QPushButton::clicked, this, &PieceStation::ask_order);
    under->addWidget(order);
    auto* times = new QPushButton(tr("Time the scanner…"), this);
    times->setObjectName(u"time_scanner"_s);
    times->setToolTip(tr("Take the time of three scans, and every prediction of time is this bench's own"));
    connect(times, &QPushButton::clicked, this, &PieceStation::ask_times);
    under->addWidget(times);
    box->addLayout(under);
    connect(drawing_, &DrawingView::layer_asked, this, &PieceStation::choose_layer);
    connect(drawing_, &DrawingView::mark_asked, this, [this](std::size_t mark) {
        // Marks are the findings that have a place, in their order.
        const auto findings = reader_.findings();
        for (std::size_t i = 0; i < findings.size(); ++i)
            if (findings[i].at && mark-- == 0)
                return choose_finding(i);
    });
    connect(drawing_, &DrawingView::drawn_round, this, &PieceStation::take_round);
    connect(layers_, &LayerList::asked, this, &PieceStation::choose_layer);
    connect(layers_, &LayerList::move_asked, this, &PieceStation::move_layer);
    connect(layers_, &LayerList::guide_asked, this, &PieceStation::switch_guide);
    connect(layers_, &LayerList::fill_asked, this, &PieceStation::switch_fill);
    connect(layers_, &LayerList::recipe_asked, this, &PieceStation::take_recipe);
    connect(findings_, &FindingList::asked, this, &PieceStation::choose_finding);
    connect(findings_, &FindingList::other_asked, this, &PieceStation::leave_or_mend);
    return page;
}

QWidget* PieceStation::make_head() {
    auto* head = new QWidget(this);
    auto* row = new QHBoxLayout(head);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(8);
    auto* words = new QVBoxLayout;
    words->setSpacing(1);
    title_ = plain_label({}, TextStyle::title, head);
    title_->setObjectName(u"piece_title"_s);
    under_ = text_label({}, TextStyle::small, head);
    under_->setObjectName(u"piece_under"_s);
    words->addWidget(title_);
    words->addWidget(under_);
    row->addLayout(words, 1);
    close_up_ = new QPushButton(tr("Close up"), head);
    close_up_->setObjectName(u"close_up"_s);
    close_up_->setCheckable(true);
    close_up_->setToolTip(tr("The page fills the view instead of the field."));
    connect(close_up_, &QPushButton::toggled, this, &PieceStation::refresh);
    row->addWidget(close_up_);
    round_ = new QPushButton(tr("Draw round"), head);
    round_->setObjectName(u"draw_round"_s);
    round_->setToolTip(
        tr("Shapes of the chosen layer that lie within a line drawn by hand become a layer of their own."));
    connect(round_, &QPushButton::clicked, this, &PieceStation::switch_round);
    row->addWidget(round_);
    as_steps_ = new QPushButton(tr("Steps"), head);
    as_steps_->setObjectName(u"as_steps"_s);
    as_steps_->setCheckable(true);
    as_steps_->setToolTip(tr("Degrease, spray, dry, mark, wash: on a time line, with a timer"));
    connect(as_steps_, &QPushButton::toggled, this, &PieceStation::refresh);
    row->addWidget(as_steps_);
    as_relief_ = new QPushButton(tr("As a relief"), head);
    as_relief_->setObjectName(u"as_relief"_s);
    as_relief_->setToolTip(tr("The picture's greys become depth: black is cut deepest."));
    connect(as_relief_, &QPushButton::clicked, this, &PieceStation::switch_relief);
    row->addWidget(as_relief_);
    auto* texts = new QPushButton(tr("Texts…"), head);
    texts->setObjectName(u"piece_texts"_s);
    texts->setToolTip(tr("Words, numbers that count and columns of a table, on the drawing or on an empty page"));
    connect(texts, &QPushButton::clicked, this, &PieceStation::ask_texts);
    row->addWidget(texts);
    size_ = new QPushButton(tr("Size…"), head);
    size_->setObjectName(u"size_piece"_s);
    size_->setToolTip(tr("How large the drawing becomes: times, wide, high, or into a piece of stock (Ctrl+Alt+S)"));
    connect(size_, &QPushButton::clicked, this, &PieceStation::ask_size);
    row->addWidget(size_);
    place_ = new QPushButton(tr("Place…"), head);
    place_->setObjectName(u"place_piece"_s);
    place_->setToolTip(tr("Turned, mirrored, in a tray, in tiles, or round a turned part"));
    connect(place_, &QPushButton::clicked, this, &PieceStation::ask_place);
    row->addWidget(place_);
    auto* cost = new QPushButton(tr("Cost…"), head);
    cost->setObjectName(u"piece_cost"_s);
    cost->setToolTip(tr("What it costs and is sold for, by quantity, and against another way to make it"));
    connect(cost, &QPushButton::clicked, this, &PieceStation::ask_cost);
    row->addWidget(cost);
    export_ = new QPushButton(tr("Export…"), head);
    export_->setObjectName(u"export_piece"_s);
    export_->setToolTip(tr("As a job, as outlines, or as the lines of every pass."));
    connect(export_, &QPushButton::clicked, this, &PieceStation::ask_export);
    row->addWidget(export_);
    auto* open = new QPushButton(tr("Open a drawing…"), head);
    open->setObjectName(u"open_drawing"_s);
    connect(open, &QPushButton::clicked, this, &PieceStation::ask_open);
    row->addWidget(open);
    run_ = new QPushButton(tr("Run…"), head);
    run_->setObjectName(u"run_piece"_s);
    run_->setProperty("primary", true);
    run_->setToolTip(
        tr("On to the Run station: what must be so is asked before anything is marked (Ctrl+Shift+Return)."));
    connect(run_, &QPushButton::clicked, this, &PieceStation::run_asked);
    row->addWidget(run_);
    return head;
}

QWidget* PieceStation::make_right() {
    auto* right = new QWidget(this);
    right->setMinimumWidth(right_width);
    auto* column = new QVBoxLayout(right);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(6);
    layers_ = new LayerList(right);
    layers_scroll_ = scrolled(layers_, u"layers_scroll"_s, right);
    column->addWidget(layers_scroll_);
    auto* buttons = new QHBoxLayout;
    buttons->setSpacing(6);
    const auto button = [&](const QString& text, const QString& name, const QString& tip, auto&& run) {
        auto* b = new QPushButton(text, right);
        b->setObjectName(name);
        b->setToolTip(tip);
        connect(b, &QPushButton::clicked, this, run);
        buttons->addWidget(b);
        of_layer_.push_back(b);
        return b;
    };
    button(tr("Take the recipe at hand"), u"take_recipe"_s,
           tr("The recipe that is being tuned becomes that of the chosen layer (Enter)."), [this] { take_recipe(); });
    guide_ =
        button(tr("Guide"), u"guide"_s, tr("Shown by the pointer, never marked (Delete)."), [this] { switch_guide(); });
    fill_ = button(tr("Fill…"), u"fill_how"_s,
                   tr("Angle, turn, crossing, inset and contours, seen and timed; F fills shape by shape."),
                   [this] { ask_fill(); });
    buttons->addStretch(1);
    button(tr("Earlier"), u"earlier"_s, tr("Marked before the one above (Alt+Up)."), [this] { move_layer(-1); });
    button(tr("Later"), u"later"_s, tr("Marked after the one below (Alt+Down)."), [this] { move_layer(1); });
    column->addLayout(buttons);
    column->addSpacing(4);
    column->addWidget(text_label(tr("Hatch, as it will lie"), TextStyle::head, right));
    lens_ = new HatchLens(right);
    column->addWidget(lens_);
    findings_head_ = text_label({}, TextStyle::head, right);
    findings_head_->setObjectName(u"findings_head"_s);
    auto* known = new QHBoxLayout;
    known->addWidget(findings_head_);
    known->addStretch(1);
    leave_ = new QPushButton(tr("Leave as drawn"), right);
    leave_->setObjectName(u"leave_fault"_s);
    leave_->setToolTip(tr("The chosen fault is not mended, or mended again (Space)."));
    connect(leave_, &QPushButton::clicked, this, &PieceStation::leave_or_mend);
    known->addWidget(leave_);
    column->addLayout(known);
    findings_ = new FindingList(right);
    findings_scroll_ = scrolled(findings_, u"findings_scroll"_s, right);
    column->addWidget(findings_scroll_, 1);
    return right;
}

void PieceStation::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    reader_.look();
    relief_.look();
    refresh();
}

/// What is told of a height map; the rest is its page's.
void PieceStation::refresh_relief() {
    const ReadRelief* picture = relief_.picture();
    const ReliefRules& rules = workbench_.draft().piece.relief->rules;
    under_->setText(picture == nullptr ? tr("A height map")
                                       : tr("Height map of %1 × %2 dots, %3 bits; %4 mm wide, a dot is %5 µm")
                                             .arg(picture->picture.width)
                                             .arg(picture->picture.height)
                                             .arg(picture->picture.bits)
                                             .arg(screen_number(rules.width_mm),
                                                  screen_number(1000 * rules.width_mm / picture->picture.width)));
    if (const QString how = holding_words(workbench_.draft().piece.place); !how.isEmpty())
        under_->setText(under_->text() + tr("; exported %1").arg(how));
    export_->setEnabled(relief_.work() != nullptr);
    run_->setEnabled(relief_.work() != nullptr);
    relief_page_->refresh();
}

/// What nobody sees is not worked out at every turn of a knob; it is when it is shown.
void PieceStation::refresh() {
    if (!isVisible())
        return;
    const ReadPiece* piece = reader_.piece();
    if (piece != drawn_) {
        drawn_ = piece;
        paths_ = piece != nullptr ? layer_paths(*piece) : std::vector<LayerPath>();
        finding_.reset();
        layer_ = piece != nullptr && !piece->drawing.art.layers.empty() ? std::optional<std::size_t>(0) : std::nullopt;
        // Read again, it is the layer that was chosen, where it is still there.
        const auto now = reader_.layers();
        for (std::size_t i = 0; i < now.size(); ++i)
            if (now[i].choice.name == chosen_)
                layer_ = i;
    }
    const auto layers = reader_.layers();
    if (layer_ && *layer_ < layers.size())
        chosen_ = layers[*layer_].choice.name;
    const std::string& file = workbench_.draft().piece.file;
    const bool is_relief = relief_.chosen();
    const bool has_film = !is_relief && std::ranges::any_of(layers, [](const PieceLayer& l) {
        return !l.choice.guide && l.choice.recipe && l.choice.recipe->process == Process::compound;
    });
    as_steps_->setVisible(has_film);
    const bool steps = has_film && as_steps_->isChecked();
    pages_->setCurrentIndex(is_relief ? 1 : steps ? 2 : 0);
    if (run_->property("primary").toBool() == steps) { // one thing is the next to do
        run_->setProperty("primary", !steps);
        run_->style()->polish(run_);
    }
    close_up_->setVisible(!is_relief && !steps);
    round_->setVisible(!is_relief && !steps);
    as_relief_->setVisible(is_relief || is_picture(file));
    as_relief_->setText(is_relief ? tr("As a drawing") : tr("As a relief"));
    title_->setText(file.empty() ? workbench_.draft().piece.blank ? tr("Texts on an empty page")
                                                                  : tr("From a drawing to a piece")
                                 : QFileInfo(from_utf8(file)).fileName());
    under_->setText(piece == nullptr ? tr("Layers with a recipe each, hatched and timed")
                                     : tr("Page %1 × %2 mm; layers: %3")
                                           .arg(screen_number(piece->drawing.art.width_mm),
                                                screen_number(piece->drawing.art.height_mm))
                                           .arg(piece->drawing.art.layers.size()));
    if (piece != nullptr && piece->sizing.factor != 1)
        under_->setText(under_->text() + tr("; %1 × as drawn").arg(screen_number(piece->sizing.factor, 3)));
    size_->setEnabled(piece != nullptr && piece->extent);
    place_->setEnabled(is_relief ? relief_.work() != nullptr : piece != nullptr);
    if (is_relief)
        return refresh_relief();
    if (steps)
        return film_page_->refresh();
    close_up_->setEnabled(piece != nullptr);
    export_->setEnabled(piece != nullptr);
    run_->setEnabled(!layers.empty() && std::ranges::all_of(layers, [](const PieceLayer& l) {
        return l.choice.guide || l.choice.recipe.has_value();
    }));
    DrawingPicture picture = drawing_picture(reader_, workbench_.bench(), paths_, layer_, finding_);
    picture.close_up = close_up_->isChecked();
    drawing_->show_picture(std::move(picture));
    layers_->show_rows(layer_rows(reader_, layer_));
    layers_scroll_->setFixedHeight(
        std::min(layers_->height(), 24 + 44 * most_layers_shown)); // a few, then it is scrolled
    lens_->show_picture(lens_picture(reader_, workbench_.bench(), paths_, layer_, finding_));
    const auto findings = reader_.findings();
    findings_head_->setText(findings.empty() ? tr("Artwork") : tr("Artwork: %1 to know").arg(findings.size()));
    findings_->show_rows(piece != nullptr ? finding_rows(findings, finding_) : std::vector<FindingRowView>());
    const bool leaves = finding_ && *finding_ < findings.size() && can_be_left(findings[*finding_]);
    leave_->setVisible(leaves);
    leave_->setText(leaves && !findings[*finding_].closed ? tr("Mend it") : tr("Leave as drawn"));
    round_->setEnabled(piece != nullptr && layer_.has_value());
    round_->setText(layer_ && reader_.is_drawn_round(*layer_) ? tr("Give back") : tr("Draw round"));
    bar_->show_parts(layer_parts(layers));
    const PlacedPiece* laid = reader_.laid();
    time_->setText(reader_.text_fault()
                       ? tr("What is typed is not on the drawing: %1").arg(from_utf8(sentence(*reader_.text_fault())))
                   : laid != nullptr ? place_words(*laid, workbench_.draft().piece.place)
                   : reader_.laid_reason().isEmpty()
                       ? time_words(reader_)
                       : tr("It cannot lie as it was laid: %1").arg(reader_.laid_reason()));
    for (QPushButton* b : of_layer_)
        b->setEnabled(layer_.has_value());
    const bool has_work = layer_ && *layer_ < layers.size() && layers[*layer_].work != nullptr;
    fill_->setEnabled(has_work);
    guide_->setText(layer_ && *layer_ < layers.size() && layers[*layer_].choice.guide ? tr("Mark it") : tr("Guide"));
}

void PieceStation::make_ready(std::function<void(const Expected<std::shared_ptr<const ReadyJob>>&)> answer) {
    relief_.chosen() ? relief_.make_ready(std::move(answer)) : reader_.make_ready(std::move(answer));
}

void PieceStation::choose_layer(std::size_t layer) {
    layer_ = layer;
    finding_.reset();
    refresh();
    layers_scroll_->ensureVisible(0, static_cast<int>(24 + 44 * layer + 22), 0, 40);
}

void PieceStation::switch_round() {
    if (!has_layer())
        return;
    if (reader_.is_drawn_round(*layer_)) {
        reader_.give_back(*layer_);
        return;
    }
    if (drawing_->drawing_round())
        return drawing_->set_drawing_round(false);
    drawing_->set_drawing_round(true);
    workbench_.say(tr("Draw a line round the shapes with the left button held; Esc leaves it."));
    drawing_->setFocus();
}

void PieceStation::take_round(const QPolygonF& line) {
    drawing_->set_drawing_round(false);
    std::vector<PointMm> points;
    for (const QPointF& p : line)
        points.push_back({p.x(), p.y()});
    const std::string name = layer_ ? reader_.draw_round(*layer_, points) : std::string();
    if (name.empty())
        workbench_.say(tr("No shape of the layer lies wholly in that, or it is a text, which is a layer already."),
                       State::warn);
    else
        chosen_ = name; // once it is there
}

void PieceStation::leave_or_mend() {
    const auto findings = reader_.findings();
    if (!finding_ || *finding_ >= findings.size())
        return workbench_.say(tr("Choose a fault first."), State::warn);
    reader_.leave_or_mend(findings[*finding_]);
}

void PieceStation::choose_finding(std::size_t finding) {
    const auto findings = reader_.findings();
    if (finding >= findings.size())
        return;
    finding_ = finding;
    const auto layers = reader_.layers();
    for (std::size_t i = 0; i < layers.size(); ++i)
        if (layers[i].index == findings[finding].layer)
            layer_ = i;
    refresh();
    findings_scroll_->ensureVisible(0, static_cast<int>(finding_height * finding + finding_height / 2), 0,
                                    finding_height);
}

void PieceStation::next_finding() {
    const auto findings = reader_.findings();
    const std::size_t n = findings.size();
    for (std::size_t step = 1; step <= n; ++step)
        if (const std::size_t i = (finding_ ? *finding_ + step : step - 1) % n; findings[i].at)
            return choose_finding(i);
    workbench_.say(tr("No fault of this drawing has a place."));
}

void PieceStation::read_again() {
    relief_.chosen() ? relief_.read_again() : reader_.read_again();
}

void PieceStation::switch_relief() {
    const QString file = from_utf8(workbench_.draft().piece.file);
    if (relief_.chosen())
        return reader_.open(file);
    if (!is_picture(file.toStdString()))
        return workbench_.say(tr("Open a height map first: a PNG or JPEG of greys."), State::warn);
    relief_.open(file);
}

bool PieceStation::has_layer() {
    if (layer_ && reader_.piece() != nullptr)
        return true;
    workbench_.say(tr("Open a drawing and choose a layer first."), State::warn);
    return false;
}

void PieceStation::switch_steps() {
    refresh();
    if (as_steps_->isHidden())
        return workbench_.say(tr("Give a layer a recipe for a sprayed film first."), State::warn);
    as_steps_->toggle();
}

void PieceStation::take_recipe() {
    if (relief_.chosen())
        return relief_.take_recipe();
    if (has_layer())
        reader_.take_recipe(*layer_);
}

void PieceStation::switch_guide() {
    if (!has_layer())
        return;
    const auto layers = reader_.layers();
    if (*layer_ < layers.size())
        reader_.set_guide(*layer_, !layers[*layer_].choice.guide);
}

void PieceStation::switch_fill() {
    if (!has_layer())
        return;
    const auto layers = reader_.layers();
    if (*layer_ >= layers.size() || !layers[*layer_].choice.recipe || layers[*layer_].choice.guide)
        return workbench_.say(tr("A layer is filled once it has a recipe."), State::warn);
    reader_.set_by_shape(*layer_, !layers[*layer_].choice.fill.by_shape);
}

void PieceStation::move_layer(int by) {
    if (!has_layer())
        return;
    layer_ = reader_.move(*layer_, by);
    refresh();
}

void PieceStation::dragEnterEvent(QDragEnterEvent* event) {
    if (event->mimeData()->hasUrls())
        event->acceptProposedAction();
}

void PieceStation::dropEvent(QDropEvent* event) {
    for (const QUrl& url : event->mimeData()->urls())
        if (url.isLocalFile())
            return reader_.open(url.toLocalFile());
    workbench_.say(tr("Drop a drawing that is a file on this machine."), State::warn);
}

} // namespace finch::app

#include "moc_piece_station.cpp"
