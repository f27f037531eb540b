// SPDX-License-Identifier: GPL-3.0-or-later
#include "ask/dialogs.h"

#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QInputDialog>
#include <QMessageBox>
#include <QPushButton>
#include <QSettings>

#include "picture/content.h"

namespace zl::app {
namespace {

// Begins where the last one ended.
QFileDialog* fileDialog(QWidget* parent, const QString& title, std::function<void(QString)> done) {
    const QString last = QSettings().value("dialogFolder").toString();
    auto* dialog = new QFileDialog(
        parent, title, !last.isEmpty() && QDir(last).exists() ? last : QDir::homePath());
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    QObject::connect(dialog, &QFileDialog::fileSelected, parent,
                     [done = std::move(done)](const QString& file) {
                         QSettings().setValue("dialogFolder", QFileInfo(file).path());
                         done(file);
                     });
    return dialog;
}

}  // namespace

QString pictureFilter() {
    QString endings;
    for (const ContentFacts& facts : allContents())
        if (facts.read)
            for (const QString& ending :
                 QString::fromUtf8(facts.endings.data(), static_cast<int>(facts.endings.size()))
                     .split(' '))
                endings += " *" + ending + " *" + ending.toUpper();
    return QObject::tr("Pictures (%1)").arg(endings.trimmed());
}

QString videoFilter() {
    return QObject::tr(
        "Videos (*.mp4 *.m4v *.mov *.mkv *.webm *.avi *.mpg *.mpeg *.ts *.ogv *.mxf *.gif "
        "*.webp);;All files (*)");
}

namespace {

void addForMany(Dialogs& dialogs) {
    dialogs.openFiles = [](QWidget* parent, const QString& title, const QString& filter,
                           std::function<void(QStringList)> done) {
        auto* dialog = fileDialog(parent, title, [](const QString&) {});
        dialog->setFileMode(QFileDialog::ExistingFiles);
        dialog->setNameFilter(filter);
        QObject::connect(dialog, &QFileDialog::filesSelected, parent, std::move(done));
        dialog->open();
    };
    dialogs.confirm = [](QWidget* parent, const QString& words, const QString& action,
                         std::function<void()> done) {
        auto* box =
            new QMessageBox(QMessageBox::NoIcon, action, words, QMessageBox::Cancel, parent);
        box->setAttribute(Qt::WA_DeleteOnClose);
        auto* yes = box->addButton(action, QMessageBox::AcceptRole);
        QObject::connect(box, &QMessageBox::buttonClicked, parent,
                         [yes, done = std::move(done)](QAbstractButton* pressed) {
                             if (pressed == yes) done();
                         });
        box->open();
    };
    dialogs.askText = [](QWidget* parent, const QString& title, const QString& caption,
                         const QString& now, std::function<void(QString)> done) {
        auto* dialog = new QInputDialog(parent);
        dialog->setAttribute(Qt::WA_DeleteOnClose);
        dialog->setWindowTitle(title);
        dialog->setLabelText(caption);
        dialog->setTextValue(now);
        QObject::connect(dialog, &QInputDialog::textValueSelected, parent, std::move(done));
        dialog->open();
    };
}

}  // namespace

Dialogs realDialogs() {
    Dialogs dialogs;
    addForMany(dialogs);
    dialogs.openFile = [](QWidget* parent, const QString& title, const QString& filter,
                          std::function<void(QString)> done) {
        auto* dialog = fileDialog(parent, title, std::move(done));
        dialog->setFileMode(QFileDialog::ExistingFile);
        dialog->setNameFilter(filter);
        dialog->open();
    };
    dialogs.saveFile = [](QWidget* parent, const QString& title, const QString& suggested,
                          const QString& filter, std::function<void(QString)> done) {
        auto* dialog = fileDialog(parent, title, std::move(done));
        dialog->setAcceptMode(QFileDialog::AcceptSave);
        dialog->setNameFilter(filter);
        dialog->setDefaultSuffix(QFileInfo(suggested).suffix());
        dialog->selectFile(suggested);
        dialog->open();
    };
    dialogs.chooseFolder = [](QWidget* parent, const QString& title, const QString& start,
                              std::function<void(QString)> done) {
        auto* dialog = fileDialog(parent, title, std::move(done));
        dialog->setFileMode(QFileDialog::Directory);
        dialog->setDirectory(start);
        dialog->open();
    };
    dialogs.unsaved = [](QWidget* parent, const QString& kit, std::function<void(Unsaved)> done) {
        auto* box = new QMessageBox(QMessageBox::NoIcon, QObject::tr("Unsaved changes"),
                                    QObject::tr("“%1” has changes that are not saved.").arg(kit),
                                    QMessageBox::NoButton, parent);
        box->setAttribute(Qt::WA_DeleteOnClose);
        auto* save = box->addButton(QObject::tr("Save"), QMessageBox::AcceptRole);
        auto* discard = box->addButton(QObject::tr("Leave unsaved"), QMessageBox::DestructiveRole);
        box->addButton(QObject::tr("Stay here"), QMessageBox::RejectRole);
        box->setDefaultButton(save);
        QObject::connect(box, &QMessageBox::buttonClicked, parent,
                         [=, done = std::move(done)](QAbstractButton* clicked) {
                             done(clicked == save      ? Unsaved::save
                                  : clicked == discard ? Unsaved::discard
                                                       : Unsaved::cancel);
                         });
        box->open();
    };
    return dialogs;
}

}  // namespace zl::app
