#include "app/dispatch/dispatch_form.h"

#include "app/controls/file_dialog.h"
#include "app/controls/number_box.h"
#include "app/controls/switch_box.h"
#include "app/controls/tab_button.h"
#include "app/look/folder_text.h"
#include "app/look/picture_paint.h"
#include "app/look/role.h"
#include "app/look/theme.h"
#include "app/session/session.h"
#include "core/dispatch/export_format.h"
#include "core/image/error.h"
#include "core/relief/derived_maps.h"
#include "core/relief/relief_mesh.h"
#include "core/settings/number_list.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QSpinBox>
#include <QVBoxLayout>

#include <algorithm>

namespace noctis {

namespace fs = std::filesystem;

namespace {

constexpr int kMostRows = 5;  ///< of a list before it scrolls
constexpr int kRowHeight = 22;
constexpr int kLabel = 74;
constexpr int kLastFrame = 999'999;
constexpr double kFar = 1'000'000.0;  // m

QListWidget* checkList(const QString& name) {
    auto* list = new QListWidget;
    list->setObjectName(name);
    list->setAccessibleName(name);
    list->setSelectionMode(QAbstractItemView::NoSelection);
    list->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    list->setUniformItemSizes(true);
    list->setMinimumWidth(60);
    return list;
}

std::vector<std::string> checkedIn(const QListWidget& list) {
    std::vector<std::string> names;
    for (int i = 0; i < list.count(); ++i)
        if (list.item(i)->checkState() == Qt::Checked)
            names.push_back(list.item(i)->data(Qt::UserRole).toString().toStdString());
    return names;
}

bool allChecked(const QListWidget& list) {
    return static_cast<int>(checkedIn(list).size()) == list.count();
}

QSpinBox* spin(int from, int to, const QString& name) {
    auto* box = new QSpinBox;
    box->setRange(from, to);
    box->setObjectName(name);
    box->setAccessibleName(name);
    box->setKeyboardTracking(false);
    return box;
}

NumberBox* metres(double most, int decimals, const QString& name) {
    auto* box = new NumberBox;
    box->setRange(0.0, most);
    box->setDecimals(decimals);
    box->setSuffix(QObject::tr(" m"));
    box->setObjectName(name);
    box->setAccessibleName(name);
    box->setKeyboardTracking(false);
    return box;
}

QComboBox* choices(const QString& name) {
    auto* box = new QComboBox;
    box->setObjectName(name);
    box->setAccessibleName(name);
    box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    box->setMinimumContentsLength(6);
    return box;
}

QLineEdit* line(const QString& name, const QString& empty) {
    auto* edit = new QLineEdit;
    edit->setObjectName(name);
    edit->setAccessibleName(name);
    edit->setPlaceholderText(empty);
    edit->setMinimumWidth(60);
    return edit;
}

QWidget* sideBySide(const std::vector<QWidget*>& widgets) {
    auto* both = new QWidget;
    auto* layout = new QHBoxLayout(both);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(6);
    for (QWidget* each : widgets)
        layout->addWidget(each, 1);
    return both;
}

/// A switch at the left of its cell.
QWidget* atLeft(QWidget* widget) {
    auto* cell = new QWidget;
    auto* layout = new QHBoxLayout(cell);
    layout->setContentsMargins(0, 2, 0, 2);
    layout->addWidget(widget);
    layout->addStretch(1);
    return cell;
}

SwitchBox* onOff(const QString& name) {
    auto* box = new SwitchBox(name);
    box->setObjectName(name);
    box->setCheckable(true);
    return box;
}

/// "posts: post; walls: wall, fence" as sets.
std::vector<ObjectSet> setsFrom(const QString& text) {
    std::vector<ObjectSet> sets;
    for (const QString& each : text.split(QLatin1Char(';'), Qt::SkipEmptyParts)) {
        const qsizetype colon = each.indexOf(QLatin1Char(':'));
        const QString name = (colon < 0 ? each : each.left(colon)).trimmed();
        const QString only = (colon < 0 ? each : each.mid(colon + 1)).trimmed();
        if (!name.isEmpty() && !only.isEmpty())
            sets.push_back({name.toStdString(), only.toStdString()});
    }
    return sets;
}

QString textOfSets(const std::vector<ObjectSet>& sets) {
    QStringList texts;
    for (const ObjectSet& set : sets)
        texts << (set.name == set.only ? qstring(set.name) : qstring(set.name + ": " + set.only));
    return texts.join(QStringLiteral("; "));
}

QString textOfSize(const Framing& f) {
    if (f.longest > 0)
        return QString::number(f.longest);
    return f.width > 0 || f.height > 0 ? QStringLiteral("%1x%2").arg(f.width).arg(f.height)
                                       : QString();
}

QString textOfCrop(const Framing& f) {
    return f.crop ? QStringLiteral("%1, %2, %3, %4")
                        .arg(f.crop->x0)
                        .arg(f.crop->y0)
                        .arg(f.crop->width())
                        .arg(f.crop->height())
                  : QString();
}

/// Marks text that can't be read, and says why when it is pointed at.
template <typename Read> void readInto(QLineEdit& edit, const Read& read) {
    const QString help = edit.property("help").toString();
    try {
        read(edit.text().remove(QLatin1Char(' ')).toStdString());
        edit.setToolTip(help);
        setRole(edit, "");
    } catch (const Error& error) {
        edit.setToolTip(QString::fromUtf8(error.what()));
        setRole(edit, "problem");
    }
}

}  // namespace

DispatchForm::DispatchForm(Session& session, QWidget* parent)
    : QScrollArea(parent), m_session(session) {
    setWidgetResizable(true);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setFrameShape(QFrame::NoFrame);
    setFocusPolicy(Qt::NoFocus);
    auto* body = new QWidget;
    m_rows = new QVBoxLayout(body);
    m_rows->setContentsMargins(14, 4, 14, 8);
    m_rows->setSpacing(7);
    addFormatRows();
    addContentRows();
    addSheetRows();
    addReliefRows();
    addFrameRows();
    addNameRows();
    m_rows->addStretch(1);
    setWidget(body);
}

QWidget* DispatchForm::addRow(const QString& label, const QString& help, QWidget* field) {
    auto* text = new QLabel(label);
    text->setFont(theme::font(12));
    text->setProperty("role", "quiet");
    text->setFixedWidth(kLabel);
    text->setToolTip(help);
    for (QWidget* each : field->findChildren<QWidget*>())
        if (each->toolTip().isEmpty())
            each->setToolTip(help);
    if (field->toolTip().isEmpty())
        field->setToolTip(help);
    field->setProperty("help", help);
    auto* row = new QWidget;
    auto* layout = new QHBoxLayout(row);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(8);
    layout->addWidget(
        text, 0, qobject_cast<QListWidget*>(field) != nullptr ? Qt::AlignTop : Qt::Alignment());
    layout->addWidget(field, 1);
    m_rows->addWidget(row);
    return row;
}

void DispatchForm::addFormatRows() {
    m_format = choices(QStringLiteral("file format"));
    m_depth = choices(QStringLiteral("bit depth"));
    m_alpha = choices(QStringLiteral("alpha"));
    m_alpha->addItem(tr("associated"), false);
    m_alpha->addItem(tr("straight"), true);
    m_dither = onOff(QStringLiteral("dither"));
    addRow(tr("File"), tr("The kind of file that is written."), m_format);
    m_shown.emplace_back(addRow(tr("Depth"),
                                tr("How many bits store a value. Floats and half floats stay "
                                   "scene-linear; the others are as the view shows the picture."),
                                m_depth),
                         &DispatchForm::hasDepths);
    m_shown.emplace_back(
        addRow(tr("Dither"), tr("Hides the steps of 8 bits in fine noise."), atLeft(m_dither)),
        &DispatchForm::hasDither);
    m_shown.emplace_back(addRow(tr("Alpha"),
                                tr("Associated: colours are multiplied by alpha. Straight: they "
                                   "aren't, as game engines and page layouts expect."),
                                m_alpha),
                         &DispatchForm::hasAlpha);
    for (QComboBox* box : {m_depth, m_alpha})
        connect(box, &QComboBox::activated, this, &DispatchForm::take);
    connect(m_format, &QComboBox::activated, this, &DispatchForm::takeFormat);
    connect(m_dither, &QAbstractButton::toggled, this, &DispatchForm::take);
}

void DispatchForm::addContentRows() {
    m_views = checkList(QStringLiteral("views"));
    m_passes = checkList(QStringLiteral("passes"));
    m_first = spin(0, kLastFrame, QStringLiteral("first frame"));
    m_last = spin(0, kLastFrame, QStringLiteral("last frame"));
    m_bridge = onOff(QStringLiteral("bridge"));
    m_packing = choices(QStringLiteral("packing"));
    m_packing->addItem(tr("in one file"), QVariant::fromValue(PassPacking::OneFile));
    m_packing->addItem(tr("a file each"), QVariant::fromValue(PassPacking::FileEach));
    m_packing->addItem(tr("a folder each"), QVariant::fromValue(PassPacking::FolderEach));
    m_grey = choices(QStringLiteral("distances"));
    m_grey->addItem(tr("in metres"), 0);
    m_grey->addItem(tr("as greys, near is bright"), 1);
    m_grey->addItem(tr("as greys, far is bright"), 2);
    m_nearest = metres(kFar, 3, QStringLiteral("near end"));
    m_farthest = metres(kFar, 3, QStringLiteral("far end"));
    m_render = choices(QStringLiteral("render"));
    m_render->addItem(tr("passes as they are"), QVariant::fromValue(JobRender::None));
    m_render->addItem(tr("render missing ones"), QVariant::fromValue(JobRender::Missing));
    m_render->addItem(tr("render all anew"), QVariant::fromValue(JobRender::All));
    m_sets = line(QStringLiteral("sets"), tr("everything at once"));
    m_shown.emplace_back(addRow(tr("Views"),
                                tr("Each view that is ticked is written. A view "
                                   "without passes has to be rendered."),
                                m_views),
                         &DispatchForm::hasViews);
    m_shown.emplace_back(addRow(tr("Frames"), tr("The first and the last frame that is written."),
                                sideBySide({m_first, m_last})),
                         &DispatchForm::hasFrames);
    m_shown.emplace_back(addRow(tr("Bridge gaps"),
                                tr("A frame whose files are missing is made from the nearest "
                                   "one, instead of being reported."),
                                atLeft(m_bridge)),
                         &DispatchForm::hasFrames);
    m_shown.emplace_back(addRow(tr("Passes"), tr("The passes that are written."), m_passes),
                         &DispatchForm::isPasses);
    m_shown.emplace_back(
        addRow(tr("Packed"), tr("Whether the passes of a frame share a file."), m_packing),
        &DispatchForm::isPasses);
    m_shown.emplace_back(addRow(tr("Distances"),
                                tr("Depth and distance in metres, or as greys between two "
                                   "distances. What is nearer or farther has the grey of its end."),
                                m_grey),
                         &DispatchForm::hasGreys);
    m_shown.emplace_back(addRow(tr("Between"), tr("The distances of the two ends of the greys."),
                                sideBySide({m_nearest, m_farthest})),
                         &DispatchForm::hasSpan);
    m_shown.emplace_back(addRow(tr("Source"),
                                tr("Whether the job uses passes that are there, or renders them "
                                   "from the scene with Survey's settings."),
                                m_render),
                         &DispatchForm::canRender);
    m_shown.emplace_back(addRow(tr("Sets"),
                                tr("Objects that are rendered without the others, each set into "
                                   "its folder: “boats: dinghy, boat; birds: heron”. Empty: "
                                   "everything at once."),
                                m_sets),
                         &DispatchForm::canSet);
    for (QListWidget* list : {m_views, m_passes})
        connect(list, &QListWidget::itemChanged, this, &DispatchForm::take);
    for (QSpinBox* box : {m_first, m_last})
        connect(box, &QSpinBox::valueChanged, this, &DispatchForm::take);
    for (QComboBox* box : {m_packing, m_grey, m_render})
        connect(box, &QComboBox::activated, this, &DispatchForm::take);
    for (NumberBox* box : {m_nearest, m_farthest})
        connect(box, &QDoubleSpinBox::valueChanged, this, &DispatchForm::take);
    connect(m_bridge, &QAbstractButton::toggled, this, &DispatchForm::take);
    connect(m_sets, &QLineEdit::editingFinished, this, &DispatchForm::take);
}

void DispatchForm::addSheetRows() {
    m_columns = spin(0, 1000, QStringLiteral("columns"));
    m_columns->setSpecialValueText(tr("nearly square"));
    m_padding = spin(0, 256, QStringLiteral("padding"));
    m_padding->setSuffix(tr(" px"));
    m_trim = onOff(QStringLiteral("trim"));
    m_power = onOff(QStringLiteral("power of two"));
    m_pivot = line(QStringLiteral("pivot"), tr("middle, at the foot"));
    const auto sheetRow = [this](QWidget* row) {
        m_shown.emplace_back(row, &DispatchForm::isSheet);
    };
    sheetRow(addRow(tr("Columns"), tr("How many pictures stand in a row."), m_columns));
    sheetRow(addRow(tr("Padding"), tr("Empty space around each picture."), m_padding));
    sheetRow(addRow(tr("Trim"),
                    tr("Cuts all pictures to the one box that holds what is seen in any of them."),
                    atLeft(m_trim)));
    sheetRow(addRow(tr("Power of 2"),
                    tr("Makes the sheet's sides 256, 512, 1024 … px long; the rest stays empty."),
                    atLeft(m_power)));
    sheetRow(addRow(tr("Pivot"),
                    tr("The place of a picture that stays put from one to the next, as x, y px "
                       "from its top left. It goes into the list of places."),
                    m_pivot));
    for (QSpinBox* box : {m_columns, m_padding})
        connect(box, &QSpinBox::valueChanged, this, &DispatchForm::take);
    for (SwitchBox* box : {m_trim, m_power})
        connect(box, &QAbstractButton::toggled, this, &DispatchForm::take);
    connect(m_pivot, &QLineEdit::editingFinished, this, &DispatchForm::take);
}

void DispatchForm::addReliefRows() {
    m_as = choices(QStringLiteral("what of it"));
    m_as->addItem(tr("heights"), qstring(kHeightsWritten));
    for (const DerivedMap& map : derivedMaps())
        m_as->addItem(qstring(map.label).toLower(), qstring(map.id));
    m_as->addItem(tr("a solid"), qstring(kSolidWritten));
    m_reliefs = checkList(QStringLiteral("height maps"));
    m_base = metres(10.0, 3, QStringLiteral("base"));
    m_within = metres(1.0, 4, QStringLiteral("within"));
    m_shown.emplace_back(addRow(tr("Maps"), tr("The height maps that are written."), m_reliefs),
                         &DispatchForm::isRelief);
    m_shown.emplace_back(addRow(tr("What"),
                                tr("The heights, a map that derives from them, or a "
                                   "solid."),
                                m_as),
                         &DispatchForm::isRelief);
    m_shown.emplace_back(addRow(tr("Base"),
                                tr("How far the floor of a closed solid lies below its lowest "
                                   "point; 0 leaves it open."),
                                m_base),
                         &DispatchForm::solid);
    m_shown.emplace_back(addRow(tr("Within"),
                                tr("How far a simplified solid may deviate from the "
                                   "map; 0 keeps every cell."),
                                m_within),
                         &DispatchForm::solid);
    connect(m_reliefs, &QListWidget::itemChanged, this, &DispatchForm::take);
    connect(m_as, &QComboBox::activated, this, &DispatchForm::takeFormat);
    for (NumberBox* box : {m_base, m_within})
        connect(box, &QDoubleSpinBox::valueChanged, this, &DispatchForm::take);
}

void DispatchForm::addFrameRows() {
    m_crop = line(QStringLiteral("crop"), tr("all of it"));
    m_size = line(QStringLiteral("size"), tr("as it is"));
    m_bars = line(QStringLiteral("letterbox"), tr("none"));
    m_resample = choices(QStringLiteral("resampling"));
    m_resample->addItem(tr("smoothly"), false);
    m_resample->addItem(tr("by the sample"), true);
    const auto framedRow = [this](QWidget* row, bool (DispatchForm::*when)() const) {
        m_shown.emplace_back(row, when);
    };
    framedRow(addRow(tr("Crop"),
                     tr("A part of the picture: x, y of its top left, then width and "
                        "height, px."),
                     m_crop),
              &DispatchForm::isFramed);
    framedRow(addRow(tr("Size"), tr("The longer side in pixels, as 1920, or both, as 1920x1080."),
                     m_size),
              &DispatchForm::isFramed);
    framedRow(addRow(tr("Resized"),
                     tr("Smoothly, or by the nearest sample, for pixel art. Data "
                        "passes are always resized by the sample."),
                     m_resample),
              &DispatchForm::isResampled);
    framedRow(addRow(tr("Letterbox"),
                     tr("Black bars that leave this much seen, as 2.39 or 16:9. "
                        "Passes have none."),
                     m_bars),
              &DispatchForm::hasBars);
    for (QLineEdit* edit : {m_crop, m_size, m_bars})
        connect(edit, &QLineEdit::editingFinished, this, &DispatchForm::take);
    connect(m_resample, &QComboBox::activated, this, &DispatchForm::take);
}

void DispatchForm::addNameRows() {
    m_folder = line(QStringLiteral("folder"), {});
    m_name = line(QStringLiteral("name"), {});
    auto* choose = linkButton(tr("Choose…"), tr("Picks the folder."));
    choose->setObjectName("choose folder");
    auto* folder = new QWidget;
    auto* layout = new QHBoxLayout(folder);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(2);
    layout->addWidget(m_folder, 1);
    layout->addWidget(choose);
    addRow(tr("Folder"), tr("Where the files go; it is made if it isn't there."), folder);
    addRow(tr("Name"),
           tr("{project}, {view}, {pass}, {set} and {frame} stand for what a file is of; #### is "
              "the frame's number, too."),
           m_name);
    m_example = new QLabel;
    m_example->setObjectName("name example");
    m_example->setFont(theme::font(12));
    m_example->setWordWrap(true);
    m_example->setProperty("role", "quiet");
    addRow({}, {}, m_example);
    for (QLineEdit* edit : {m_folder, m_name})
        connect(edit, &QLineEdit::textEdited, this, &DispatchForm::take);
    connect(choose, &QPushButton::clicked, this, [this] {
        const QString chosen =
            askFolder(this, tr("Folder to write into"), qstring(m_job.to.parent_path().string()));
        if (chosen.isEmpty())
            return;
        m_folder->setText(folderText(chosen.toStdString()));
        take();
    });
}

bool DispatchForm::solid() const { return isRelief() && m_job.settings.relief.as == kSolidWritten; }

bool DispatchForm::hasDepths() const {
    return !solid() && !(isPasses() && m_job.settings.packing == PassPacking::OneFile &&
                         m_job.settings.passes.size() != 1);
}

bool DispatchForm::hasDither() const {
    return !isPasses() && !solid() && m_depth->currentData().toInt() == 8 &&
           (!isRelief() || m_job.settings.relief.as == kHeightsWritten);
}

bool DispatchForm::hasAlpha() const {
    if (m_job.kind != JobKind::Finished)
        return false;
    const ExportFormat* format = findExportFormat(m_job.to);
    return format != nullptr && !format->alwaysStraight;
}

bool DispatchForm::hasGreys() const { return isPasses() && hasDepths(); }

bool DispatchForm::hasSpan() const { return hasGreys() && m_job.settings.span.has_value(); }

bool DispatchForm::isResampled() const {
    const Framing& f = m_job.settings.picture.framing;
    return isFramed() && (f.longest > 0 || f.width > 0 || f.height > 0);
}

bool DispatchForm::hasViews() const { return !isRelief() && m_views->count() > 1; }

bool DispatchForm::canRender() const { return !isRelief() && !m_session.project().scene.empty(); }

bool DispatchForm::canSet() const { return canRender() && isPasses(); }

void DispatchForm::setJob(const Job& job) {
    m_job = job;
    fill();
}

void DispatchForm::setExample(const QString& text, bool problem) {
    m_example->setText(text);
    setRole(*m_example, problem ? "warning" : "quiet");
}

void DispatchForm::fillFormats() {
    m_format->clear();
    const QString ending = qstring(m_job.to.extension().string()).toLower();
    if (solid()) {
        for (const std::string& each : meshEndings())
            m_format->addItem(qstring(each).mid(1).toUpper(), qstring(each));
    } else {
        for (const ExportFormat& format : exportFormats())
            m_format->addItem(qstring(format.label), qstring(format.endings.front()));
    }
    const ExportFormat* format = findExportFormat(m_job.to);
    m_format->setCurrentIndex(m_format->findData(
        format != nullptr && !solid() ? qstring(format->endings.front()) : ending));
}

void DispatchForm::fillDepths() {
    m_depth->clear();
    const ExportFormat* format = findExportFormat(m_job.to);
    if (format == nullptr)
        return;
    if (isPasses())
        m_depth->addItem(tr("as each needs"), 0);
    for (const ExportDepth& depth : format->depths) {
        // Heights have no half floats.
        if (isRelief() && depth.type == SampleType::Half)
            continue;
        m_depth->addItem(tr(depth.label.data()), depth.bits);
    }
    m_depth->setCurrentIndex(std::max(0, m_depth->findData(m_job.settings.picture.bits)));
}

void DispatchForm::fillList(QListWidget& list,
                            const std::vector<std::pair<QString, bool>>& entries) const {
    list.clear();
    for (const auto& [name, on] : entries) {
        auto* item = new QListWidgetItem(name, &list);
        item->setData(Qt::UserRole, name);
        item->setFlags(Qt::ItemIsUserCheckable | Qt::ItemIsEnabled | Qt::ItemIsSelectable);
        item->setCheckState(on ? Qt::Checked : Qt::Unchecked);
        item->setSizeHint(QSize(0, kRowHeight));
    }
    list.setFixedHeight(std::clamp(list.count(), 1, kMostRows) * kRowHeight + 6);
}

void DispatchForm::fillViews() {
    std::vector<std::pair<QString, bool>> entries;
    const std::vector<std::string>& chosen = m_job.views;
    const std::vector<ViewGoingOut> views = viewsGoingOut(m_session);
    for (const ViewGoingOut& view : views)
        entries.emplace_back(qstring(view.name),
                             chosen.empty() ? &view == &views.front()
                                            : std::ranges::find(chosen, view.name) != chosen.end());
    fillList(*m_views, entries);
    for (int i = 0; i < m_views->count(); ++i)
        if (!views[static_cast<std::size_t>(i)].hasPasses) {
            m_views->item(i)->setForeground(theme::kQuiet);
            m_views->item(i)->setToolTip(tr("Not rendered yet: the job renders it."));
        }
}

void DispatchForm::fill() {
    m_filling = true;
    const JobSettings& s = m_job.settings;
    fillFormats();
    fillDepths();
    fillViews();
    m_alpha->setCurrentIndex(s.picture.straightAlpha ? 1 : 0);
    m_dither->setChecked(s.picture.dither);
    std::vector<std::pair<QString, bool>> passes;
    for (const std::string& name : passesGoingOut(m_session))
        passes.emplace_back(qstring(name), s.passes.empty() ||
                                               std::ranges::find(s.passes, name) != s.passes.end());
    fillList(*m_passes, passes);
    std::vector<std::pair<QString, bool>> reliefs;
    const std::vector<std::string>& ids = s.relief.ids;
    for (const Relief& relief : m_session.project().reliefs)
        reliefs.emplace_back(qstring(relief.name),
                             ids.empty() || std::ranges::find(ids, relief.id) != ids.end());
    fillList(*m_reliefs, reliefs);
    for (int i = 0; i < m_reliefs->count(); ++i)
        m_reliefs->item(i)->setData(
            Qt::UserRole, qstring(m_session.project().reliefs[static_cast<std::size_t>(i)].id));
    m_packing->setCurrentIndex(static_cast<int>(s.packing));
    m_grey->setCurrentIndex(!s.span ? 0 : s.span->brightNear ? 1 : 2);
    const DepthRamp& ramp = m_session.project().ramp;
    const bool ramped = ramp.farthest > ramp.nearest;
    m_nearest->setValue(static_cast<double>(s.span   ? s.span->nearest
                                            : ramped ? ramp.nearest
                                                     : 0.0F));
    m_farthest->setValue(static_cast<double>(s.span   ? s.span->farthest
                                             : ramped ? ramp.farthest
                                                      : 100.0F));
    m_render->setCurrentIndex(static_cast<int>(s.render));
    m_sets->setText(textOfSets(s.sets));
    m_first->setValue(m_job.frames ? m_job.frames->first : 1);
    m_last->setValue(m_job.frames ? m_job.frames->last : 1);
    m_bridge->setChecked(s.bridge);
    m_columns->setValue(s.sheet.columns);
    m_padding->setValue(s.sheet.padding);
    m_trim->setChecked(s.sheet.trimmed);
    m_power->setChecked(s.sheet.powerOfTwo);
    m_pivot->setText(
        s.sheet.pivot ? QStringLiteral("%1, %2").arg((*s.sheet.pivot)[0]).arg((*s.sheet.pivot)[1])
                      : QString());
    m_as->setCurrentIndex(std::max(0, m_as->findData(qstring(s.relief.as))));
    m_base->setValue(static_cast<double>(s.relief.base));
    m_within->setValue(static_cast<double>(s.relief.within));
    m_crop->setText(textOfCrop(s.picture.framing));
    m_size->setText(textOfSize(s.picture.framing));
    m_resample->setCurrentIndex(s.picture.framing.bySample ? 1 : 0);
    m_bars->setText(s.picture.framing.letterbox > 0.0F
                        ? QString::number(static_cast<double>(s.picture.framing.letterbox), 'g', 4)
                        : QString());
    m_folder->setText(folderText(m_job.to.parent_path()));
    m_name->setText(qstring(m_job.to.filename().string()));
    m_filling = false;
    showRows();
}

void DispatchForm::showRows() {
    for (const auto& [row, when] : m_shown)
        row->setVisible((this->*when)());
}

void DispatchForm::takeFormat() {
    if (m_filling)
        return;
    m_job.settings.relief.as = m_as->currentData().toString().toStdString();
    QString ending = m_format->currentData().toString();
    if (isRelief() &&
        solid() != (std::ranges::find(meshEndings(), ending.toStdString()) != meshEndings().end()))
        ending = solid() ? qstring(meshEndings().front()) : QStringLiteral(".tif");
    fs::path name = m_name->text().toStdString();
    if (!ending.isEmpty())
        name.replace_extension(ending.toStdString());
    m_name->setText(qstring(name.string()));
    take();
}

void DispatchForm::takeFraming(JobSettings& settings) {
    Framing& framing = settings.picture.framing;
    framing = {};
    framing.bySample = m_resample->currentData().toBool();
    readInto(*m_crop, [&](const std::string& text) {
        if (!text.empty())
            framing.crop = cropFromText(text);
    });
    readInto(*m_size, [&](const std::string& text) {
        if (!text.empty())
            sizeFromText(text, framing);
    });
    readInto(*m_bars, [&](const std::string& text) {
        if (!text.empty())
            framing.letterbox = letterboxFromText(text);
    });
}

void DispatchForm::takeContent(JobSettings& settings) {
    settings.passes = allChecked(*m_passes) ? std::vector<std::string>() : checkedIn(*m_passes);
    settings.packing = m_packing->currentData().value<PassPacking>();
    settings.span.reset();
    if (const int grey = m_grey->currentData().toInt();
        grey > 0 && m_farthest->value() > m_nearest->value())
        settings.span = GreySpan{static_cast<float>(m_nearest->value()),
                                 static_cast<float>(m_farthest->value()), grey == 1};
    settings.render = m_render->currentData().value<JobRender>();
    settings.sets = canSet() ? setsFrom(m_sets->text()) : std::vector<ObjectSet>();
    settings.bridge = m_bridge->isChecked();
    settings.sheet.columns = m_columns->value();
    settings.sheet.padding = m_padding->value();
    settings.sheet.trimmed = m_trim->isChecked();
    settings.sheet.powerOfTwo = m_power->isChecked();
    readInto(*m_pivot, [&](const std::string& text) {
        settings.sheet.pivot.reset();
        if (text.empty())
            return;
        const auto numbers = numbersBetween<int>(text, ',');
        if (!numbers || numbers->size() != 2)
            throw Error(ErrorCode::BadSetting, "the pivot is two numbers of pixels: x, y");
        settings.sheet.pivot = std::array{(*numbers)[0], (*numbers)[1]};
    });
    settings.relief.ids =
        allChecked(*m_reliefs) ? std::vector<std::string>() : checkedIn(*m_reliefs);
    settings.relief.as = m_as->currentData().toString().toStdString();
    settings.relief.base = static_cast<float>(m_base->value());
    settings.relief.within = static_cast<float>(m_within->value());
}

void DispatchForm::take() {
    if (m_filling)
        return;
    const bool ending = m_job.to.extension() != fs::path(m_name->text().toStdString()).extension();
    m_job.to = m_session.fileNamed(m_folder->text()) / m_name->text().toStdString();
    JobSettings& s = m_job.settings;
    s.picture.straightAlpha = m_alpha->currentData().toBool();
    s.picture.dither = m_dither->isChecked();
    takeFraming(s);
    takeContent(s);
    if (m_views->count() > 1)
        m_job.views = checkedIn(*m_views);
    if (m_job.frames)
        m_job.frames = FrameRange{m_first->value(), std::max(m_first->value(), m_last->value())};
    if (ending) {
        m_filling = true;
        fillFormats();
        fillDepths();
        m_filling = false;
    }
    s.picture.bits = hasDepths() ? m_depth->currentData().toInt() : 0;
    if (!hasGreys())
        s.span.reset();
    showRows();
    Q_EMIT changed();
}

}  // namespace noctis
