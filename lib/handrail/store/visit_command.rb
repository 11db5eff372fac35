# frozen_string_literal: true

module Handrail
  module Store
    # A command at a visit. A subclass decides:
    #
    #   topic       what is written on, for the entry: a second page that wrote on the same topic is stale
    #   watch       Regexps of topics that must not have changed meanwhile (default: the topic itself)
    #   correction? true for what may still be written once the visit is closed
    #   opens?      false where the visit does not begin with it
    #   rests_on    [kind of evidence, { side:, place:, subject: }], see Fitting::Basis, where it adds
    #               evidence: what a page shows of another piece, size or wearer than there is now is
    #               not taken
    #   decide the visit as it stands under the lock -> a Decision, or nil where nothing is to be written after all;
    #               raises Refused, Closed or Unacceptable
    class VisitCommand < Command
      def topic = self.class.key
      def watch = [/\A#{Regexp.escape(topic)}\z/]
      def correction? = false
      def opens? = true
      def rests_on(_visit) = nil

      private

      # Raises Refused while something holds this command back, see Fitting::Gates.
      def pass!(visit)
        blocks = visit.gates.before(self.class.key.to_sym)
        raise Refused, blocks if blocks.any?
      end

      # The side meant, one of those ordered. Raises Unacceptable.
      def side_of(visit, given)
        side = given.to_s.empty? ? visit.sides.first : given
        if visit.sides.include?(side)
          side
        else
          unacceptable("side", "Choose #{visit.sides.compact.join(" or ")}.")
        end
      end

      # The side meant, which of a pair is to be named. Raises Unacceptable.
      def named_side(visit, given)
        return visit.sides.first if visit.sides.one?

        visit.sides.include?(given) ? given : unacceptable("side", t(:say_which_side))
      end

      # "left " before what is said of one of two sides.
      def with_side(visit, side, text) = [visit.said_side(side), text].compact.join(" ")

      # The id of a photo of this fitting, nil where none was given. Raises Unacceptable.
      def photo_of(visit, given)
        return unless given

        visit.body.photos.find { |row| row[:id].to_s == given }&.fetch(:id) or
          unacceptable("photo", t(:photo_not_fitting))
      end

      def mm(row) = Quantity::Length.mm(row[:value_mm].to_r)
    end
  end
end
