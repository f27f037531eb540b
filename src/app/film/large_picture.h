// SPDX-License-Identifier: GPL-3.0-or-later
// A picture as large as its room, in its own shape.
#pragma once

#include <QLabel>
#include <QPainter>

#include "look/theme.h"

namespace zl::app {

class LargePicture : public QLabel {
    Q_OBJECT
  public:
    explicit LargePicture(QWidget* parent = nullptr) : QLabel(parent) {
        setAlignment(Qt::AlignCenter);
        setMinimumSize(1, 1);
        setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Ignored);
    }
    // `quick`: while it moves, nobody sees how it was scaled.
    void show(const QImage& image, bool quick = false) {
        image_ = image;
        quick_ = quick;
        fit();
    }

  protected:
    void resizeEvent(QResizeEvent*) override { fit(); }
    void paintEvent(QPaintEvent* event) override {
        QPainter(this).fillRect(rect(), Theme::now()["surround"]);
        QLabel::paintEvent(event);
    }

  private:
    void fit() {
        if (image_.isNull() || width() < 8 || height() < 8) return;
        const double ratio = devicePixelRatioF();
        const QSize fitted = image_.size().scaled(size() * ratio, Qt::KeepAspectRatio);
        QPixmap pixmap = QPixmap::fromImage(
            fitted == image_.size()
                ? image_
                : image_.scaled(fitted, Qt::IgnoreAspectRatio,
                                quick_ ? Qt::FastTransformation : Qt::SmoothTransformation));
        pixmap.setDevicePixelRatio(ratio);
        setPixmap(pixmap);
    }
    QImage image_;
    bool quick_ = false;
};

}  // namespace zl::app
