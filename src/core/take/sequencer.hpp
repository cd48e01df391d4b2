// The sequences under way. Rules: docs/design.md, section 3.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "core/clock.hpp"
#include "core/feel/feel.hpp"
#include "core/take/block.hpp"

namespace stasis {

class SameNames;

/// Which sequences run since when, and what has been asked of them.
class Sequencer {
public:
  Sequencer(const Feel& feel, const Clock& clock) : feel_(&feel), clock_(clock) {}

  /// Goes on as before the feel was changed: what runs is finished by its old numbers.
  void go_on_from(const Sequencer& old, const SameNames& same);

  /// Something to be done at the frame that begins, in order.
  struct Request {
    std::size_t sequence;
    enum class What : std::uint8_t { start, skip, end } what = What::start;
    SequencePart part{};
  };
  void ask(const Request& request) { requests_.push_back(request); }
  /// A press of a control: one that starts a sequence, or that skips those that run.
  void press(std::size_t control);
  /// What has been asked for, those that are over at `frame` first; then forgotten.
  std::vector<Request> take_requests(std::int64_t frame);
  bool has_requests(std::int64_t frame) const;

  bool is_running(std::size_t sequence) const noexcept;
  const std::vector<SequenceMark>& running() const noexcept { return running_; }
  void begin(SequenceMark mark) { running_.push_back(std::move(mark)); }
  /// \returns what was running.
  SequenceMark end(std::size_t sequence);

  /// The first frame after `frame` at which one is over.
  std::int64_t next_end(std::int64_t frame) const;

private:
  bool is_over(const SequenceMark& mark, std::int64_t frame) const noexcept;

  const Feel* feel_;
  Clock clock_;
  std::vector<SequenceMark> running_; // in the order in which they began
  std::vector<Request> requests_;
};

} // namespace stasis
